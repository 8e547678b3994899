"""What sticks the joint of a step: chosen for it alone, or as the others; with what it takes in figures."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from dechirer.core.decide.change import Change
from dechirer.core.fold.adhesives import ADHESIVES
from dechirer.core.fold.decisions import StuckBy
from dechirer.core.fold.joints import Joint
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.words import plural
from dechirer.desk.widgets.choices import small
from dechirer.desk.work.document import Document

AS_OTHERS = ""


class JointPanel(QWidget):
    """Edits `fold.stuck` for one joint."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._joint: Joint | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.told = small()
        self.told.setObjectName("joint-told")
        self.told.setWordWrap(True)
        column.addWidget(self.told)
        self.by = QComboBox()
        self.by.setObjectName("joint-by")
        self.by.setAccessibleName("What sticks it")
        self.by.activated.connect(self._choose)
        column.addWidget(self.by)

    def show_joint(self, making: MakingPlan, joint: Joint | None) -> None:
        """Show a joint; nothing for None."""
        self._joint = joint
        self.setVisible(joint is not None)
        if joint is None:
            return
        self.by.clear()
        usual = ADHESIVES[joint.adhesive].title
        self.by.addItem("as the others" if joint.chosen else f"as the others: {usual}", AS_OTHERS)
        for id, spec in ADHESIVES.items():
            self.by.addItem(spec.title, id)
        self.by.setCurrentIndex(self.by.findData(joint.adhesive) if joint.chosen else 0)
        self.told.setText(joint_words(joint))

    def _choose(self, row: int) -> None:
        joint, by = self._joint, self.by.itemData(row)
        if joint is None:
            return
        others = tuple(each for each in self.document.job.fold.stuck if each.id != joint.id)
        stuck = (*others, StuckBy(joint.id, by)) if by else others
        words = f"Stuck by {ADHESIVES[by].title}" if by else "Stuck as the others"
        self.document.edit(words, [Change("fold.stuck", stuck)])


def joint_words(joint: Joint) -> str:
    """What a joint takes, in words."""
    lines = [f"{joint.area / 100:.1f} cm² takes it, of {joint.whole / 100:.1f}."]
    if joint.squares:
        number = len(joint.squares)
        lines.append(f"{number} foam {plural(number, 'square')}, {joint.foam:g} mm high.")
    if joint.tape:
        lines.append(f"{joint.tape / 10:.0f} cm of tape.")
    if joint.dots:
        lines.append(f"{joint.dots} glue {plural(joint.dots, 'dot')}.")
    if joint.grams:
        lines.append(f"About {joint.grams:.2f} g of glue (from memory).")
    if joint.free_of:
        lines.append(f"Free of glue: {', '.join(joint.free_of)}.")
    sets = ADHESIVES[joint.adhesive].sets_min
    lines.append(f"Left for {sets:g} min." if sets else "Holds at once.")
    return " ".join(lines)
