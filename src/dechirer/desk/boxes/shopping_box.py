"""The shopping list: what this job and others need together, beside what is there."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QFileDialog, QPushButton, QVBoxLayout, QWidget

from dechirer.core.keep.stock import OnShelf, Wanted, shopping_list
from dechirer.core.words import plural
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.plain_table import PlainTable
from dechirer.desk.work.beside import Beside

COLUMNS = ("What", "Needed", "There", "To buy", "Costs", "For")
MOST_JOBS = 50


class ShoppingBox(QDialog):
    """Lists what is to be bought; other jobs are added from their files."""

    def __init__(self, name: str, needs: dict[str, float], shelf: dict[str, OnShelf], parent: QWidget) -> None:
        """`needs` are those of the open job, by the names stock has."""
        super().__init__(parent)
        self.jobs: list[tuple[str, dict[str, float]]] = [(name, needs)]
        self._shelf = shelf
        self.rows: tuple[Wanted, ...] = ()
        self.setObjectName("shopping-box")
        self.setWindowTitle("Shopping list")
        self.resize(760, 480)
        column = QVBoxLayout(self)
        self.title = heading("")
        column.addWidget(self.title)
        self.table = PlainTable("shopping", "Shopping list", COLUMNS, 0)
        column.addWidget(self.table, 1)
        self.said = small()
        self.said.setObjectName("shopping-said")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        for words, id, run in (
            ("Another job…", "shopping-add", self._ask_job),
            ("Save as CSV…", "shopping-save", self._ask_file),
        ):
            button = QPushButton(words)
            button.setObjectName(id)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _=False, run=run: run())
            buttons.addButton(button, QDialogButtonBox.ButtonRole.ActionRole)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.beside = Beside(self)
        self.beside.done.connect(self._take_job)
        self.beside.refused.connect(self.said.setText)
        self.beside.failed.connect(lambda error: self.said.setText(f"It cannot be read ({type(error).__name__})."))
        self._show()

    def done(self, result: int) -> None:
        """The box closes: a job that is being read is given up."""
        self.beside.stop()
        super().done(result)

    def _show(self) -> None:
        self.rows = shopping_list(self.jobs, self._shelf)
        names = [name for name, _ in self.jobs]
        self.title.setText(f"For {names[0]}" if len(names) == 1 else f"For {len(names)} jobs: {', '.join(names)}")
        with self.table.filling(len(self.rows)):
            for number, row in enumerate(self.rows):
                there = "not counted" if row.there is None else f"{row.there:g}"
                costs = f"{row.costs:.2f}" if row.price and row.buy else ""
                self.table.put(number, 0, row.item, tip=row.item)
                self.table.put(number, 1, f"{row.needed:g}")
                self.table.put(number, 2, there)
                buy = self.table.put(number, 3, f"{row.buy:g}" if row.buy else "")
                if row.buy and row.there is not None:
                    buy.setForeground(theme.colour("stop"))
                self.table.put(number, 4, costs)
                self.table.put(number, 5, ", ".join(row.jobs), tip="\n".join(row.jobs))
        bought = sum(bool(row.buy) for row in self.rows)
        total, unpriced = sum(row.costs for row in self.rows), sum(bool(row.buy and not row.price) for row in self.rows)
        costs = f", {total:.2f} in all" if total else ""
        without = f", {unpriced} of them without a price" if unpriced and total else ""
        open_ = sum(row.there is None for row in self.rows)
        uncounted = f" {open_} were never counted: type in what is there under Stock." if open_ else ""
        self.said.setText(f"{bought} {plural(bought, 'thing')} to buy{costs}{without}.{uncounted}")

    def _ask_job(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Another job", "", "Jobs (*.dechirer);;All files (*)")
        if name:
            self.add_job(Path(name))

    def add_job(self, path: Path) -> None:
        """Read and plan the job of a file, and add what it needs."""
        if len(self.jobs) >= MOST_JOBS:
            self.said.setText(f"{MOST_JOBS} jobs are the most.")
            return
        self.said.setText(f"Reading {path.name}…")

        def work() -> tuple[str, dict[str, float]]:
            from dechirer.core.needs import needs_of
            from dechirer.core.plan import make_plan
            from dechirer.formats.job.archive import read_archive

            plan = make_plan(read_archive(path))
            return plan.job.name, needs_of(plan)

        self.beside.run(work)

    def _take_job(self, found: tuple[str, dict[str, float]]) -> None:
        self.jobs.append(found)
        self._show()

    def _ask_file(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Shopping list", "shopping-list.csv", "CSV (*.csv)")
        if name:
            self.save_to(Path(name))

    def save_to(self, path: Path) -> None:
        """Write the list, or say why not."""
        from dechirer.formats.job.atomic import write_atomically
        from dechirer.formats.shopping import write_shopping_list

        try:
            write_atomically(path, write_shopping_list(self.rows))
        except OSError as error:
            self.said.setText(f"{path.name} was not written: {error.strerror or error}.")
        else:
            self.said.setText(f"The list is {path}.")
