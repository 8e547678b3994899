"""The boxes of Dress, imported when they are first opened."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QWidget

from dechirer.core.dress.decisions import Item
from dechirer.desk.work.document import Document
from dechirer.desk.work.importing import Importer


def make_box(what: str, document: Document, item: Item | None, importer: Importer, parent: QWidget) -> QDialog | None:
    """The box for `copies`, or for the `words` or the `roles` of an item; None when the item has none."""
    if what == "copies":
        from dechirer.desk.boxes.copies_box import CopiesBox

        return CopiesBox(document, parent)
    if what == "words" and item is not None and item.words is not None:
        from dechirer.desk.boxes.words_box import WordsBox

        return WordsBox(document, item.id, importer, parent)
    if what == "roles" and item is not None and item.art is not None:
        from dechirer.desk.boxes.roles_box import RolesBox

        return RolesBox(document, item.art, parent)
    return None
