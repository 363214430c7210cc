"""The controller's settings: worked out with bounds and reasons, exported, and compared with a sheet that was read back."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.study.controller.setting import Setting

FORMATS = ("json", "csv", "pdf", "label", "c", "table")


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true", help="the same as --format json")
    parser.add_argument("--format", choices=FORMATS, help="json, csv, pdf, label; c and table are the throttle's map")
    parser.add_argument("-o", "--out", type=Path, metavar="OUT", help="file to write; without it to the terminal")
    parser.add_argument("--compare", type=Path, metavar="SHEET", help="a sheet as found on the real thing, JSON or CSV")
    parser.add_argument(
        "--column", action="append", default=[], metavar="WHAT=HEAD", help="under which head of a CSV sheet key, value or unit stand"
    )
    parser.add_argument("--name", action="append", default=[], metavar="THEIRS=KEY", help="which of its names is which key")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon import files
    from wattagon.exchange.settings_json import label_text, read_sheet, settings_csv, settings_data, settings_json
    from wattagon.exchange.units import say
    from wattagon.study.controller.compare import compare
    from wattagon.study.controller.study import study_controller
    from wattagon.study.controller.throttle import small_program, table_csv
    from wattagon.study.drive.cases import strongest
    from wattagon.study.drive.study import study_drive

    design, stock = strongest(load(options)), stock_catalogue()
    found = study_controller(design, stock, study_drive(design, stock), say)
    differences = None
    if options.compare is not None:
        columns, names = _pairs(options.column, "--column", ("key", "value", "unit")), _pairs(options.name, "--name", None)
        unknown = [key for key in names.values() if found.setting(key) is None]
        if unknown:
            raise InputError("--name", unknown[0], f"a key of the sheet, such as {', '.join(one.key for one in found.settings[:6])}")
        theirs, other = read_sheet(options.compare, found, columns=columns, names=names)
        differences = compare(found, theirs, stock, say)
    form = "json" if options.json else options.format
    if form is None and options.out is not None:
        form = options.out.suffix.lstrip(".").lower()
        if form not in FORMATS:
            raise InputError("-o", options.out.name, f"an ending of {', '.join(FORMATS[:3])}, or --format {'|'.join(FORMATS)}")
    if form == "json" and options.out is None:
        print_json(settings_data(found, differences))
        return 0
    if form is None:
        _tell(found.settings, say)
        for one in found.failures:
            print(f"  {one.status.value.replace('_', ' '):12} {one.name}: {one.words}")
        if differences is not None:
            print(f"  {len(differences)} lines of {options.compare} differ:")
            for diff in differences:
                shown = [say(x, diff.dimension) if isinstance(x, (int, float)) else str(x or "nothing") for x in (diff.ours, diff.theirs)]
                print(f"  {diff.status.value.replace('_', ' '):12} {diff.name}: {shown[0]} here, {shown[1]} there: {diff.words}")
            for name in other:
                print(f"  not compared: {name}")
        return 0
    if form == "pdf":
        from wattagon.exchange.settings_pdf import settings_pdf

        if options.out is None:
            raise InputError("-o", "nothing", "a file for the PDF")
        files.write_bytes(options.out, settings_pdf(found))
        return 0
    if form == "json":
        text = settings_json(found, differences)
    elif form == "csv":
        text = settings_csv(found)
    elif form == "label":
        text = label_text(found)
    elif form == "c":
        text = small_program(found.throttle)
    else:
        text = table_csv(found.throttle)
    if options.out is not None:
        files.write_bytes(options.out, text.encode())
    else:
        print(text, end="")
    return 0


def _pairs(told: list[str], field: str, accepted: tuple[str, ...] | None) -> dict[str, str]:
    """What was given as A=B.  Raises InputError for anything else."""
    made = {}
    for text in told:
        a, mark, b = text.partition("=")
        if not mark or not a or not b or (accepted is not None and a not in accepted):
            raise InputError(field, text, f"{' or '.join(accepted) if accepted else 'NAME'}=...")
        made[a] = b
    return made


def _tell(settings: tuple[Setting, ...], say) -> None:  # type: ignore[no-untyped-def]
    for one in settings:
        told = lambda value, one=one: say(value, one.dimension) if isinstance(value, (int, float)) else str(value or "not known")
        if one.cannot:
            fixed = f"{told(one.value)} as it is; " if one.told else ""
            print(f"  {one.status.value.replace('_', ' ') if one.told else 'not here':12} {one.name}: {fixed}{one.cannot}")
            continue
        low = f"{told(one.low)} ({one.low_from})" if one.low is not None else ""
        high = f"{told(one.high)} ({one.high_from})" if one.high is not None else ""
        between = f", from {low} to {high}" if low and high else f", at most {high}" if high else f", at least {low}" if low else ""
        mark = f" [worked out: {told(one.proposed)}]" if one.overridden else ""
        print(f"  {one.status.value.replace('_', ' '):12} {one.name}: {told(one.value)}{mark}{between}; {one.because}")
