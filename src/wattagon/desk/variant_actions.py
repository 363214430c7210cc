"""New, renamed, annotated and deleted variants, as the window offers them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PySide6.QtWidgets import QMainWindow

from wattagon.design.paths import Edit
from wattagon.design.tree import Design, Variant
from wattagon.desk.session import Session

if TYPE_CHECKING:
    from wattagon.desk.compare.window import CompareWindow


class VariantActions(QMainWindow):
    """The part of the main window that deals with variants."""

    session: Session
    comparing: CompareWindow | None = None

    def new_variant(self) -> None:
        """A copy of the present variant under the next free letter, made active."""
        design = self.session.design
        base, fresh = design.variant(), design.free_variant_id()
        made = replace(base, id=fresh, name=f"{base.name.removesuffix(' again')} again" if base.name else "", note="", based_on=base.id)
        self.session.try_apply(Edit(label=f"New variant {fresh}", changes=(("variants", (*design.variants, made)), ("active", fresh))))

    def compare_variants(self) -> None:
        """Variants, versions and what-ifs over each other, in a window of their own that follows."""
        self.compare_designs(())

    def compare_designs(self, others: Sequence[tuple[str, Design]]) -> None:
        """The same with other designs of this vehicle, such as drives that were found."""
        from wattagon.desk.compare.window import CompareWindow

        if self.comparing is None:
            self.comparing = CompareWindow(self.session, self)
        if others:
            self.comparing.bring(others)
        self.comparing.show()
        self.comparing.raise_()
        self.comparing.refresh()

    def change_variant(self, label: str, **values: Any) -> None:
        design = self.session.design
        now: Variant = design.variant()
        made = tuple(replace(v, **values) if v is now else v for v in design.variants)
        self.session.try_apply(Edit(label=label, changes=(("variants", made),)))

    def rename_variant(self) -> None:
        from PySide6.QtWidgets import QInputDialog

        name, good = QInputDialog.getText(self, "Rename this variant", "Name", text=self.session.design.variant().name)
        if good:
            self.change_variant("Rename variant", name=name.strip())

    def note_variant(self) -> None:
        from PySide6.QtWidgets import QInputDialog

        note, good = QInputDialog.getMultiLineText(self, "Note on this variant", "Note", self.session.design.variant().note)
        if good:
            self.change_variant("Note on variant", note=note.strip())

    def delete_variant(self) -> None:
        """Remove the present variant; undo brings it back."""
        design = self.session.design
        if len(design.variants) == 1:
            self.session.told.emit("A vehicle keeps at least one variant.", True)
            return
        gone = design.variant()
        kept = tuple(v for v in design.variants if v is not gone)
        self.session.try_apply(Edit(label=f"Delete variant {gone.id}", changes=(("active", kept[0].id), ("variants", kept))))
