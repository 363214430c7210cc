"""All findings of a design without their cures: what most tests look at; cures are tried by the minute."""

from collections.abc import Sequence

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.study.drive.cases import strongest
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import judge
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule
from wattagon.study.say import Say, plain


def judged_all(design: Design, stock: Catalogue, say: Say = plain, *, rides: bool = False) -> list[Finding]:
    """As `check`, of the active variant."""
    design = strongest(design)
    return judge(Case(design, stock, study_drive(design, stock), say), rides=rides)


def judged_by(rules: Sequence[Rule], design: Design, stock: Catalogue, say: Say = plain) -> list[Finding]:
    """What the rules of one study find."""
    design = strongest(design)
    case = Case(design, stock, study_drive(design, stock), say)
    return [finding for rule in rules for finding in rule.findings(case)]
