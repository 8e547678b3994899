"""Actions as data: menus, buttons, shortcuts and the find box are all built from this table."""

from __future__ import annotations

from msgspec import Struct


class ActionSpec(Struct, frozen=True):
    """One action: its id, what it is called, its shortcut, and what it does in a few words."""

    id: str
    title: str
    shortcut: str
    about: str


DEMOS: tuple[tuple[str, str, str], ...] = (
    ("kites", "dressed kite cards", "Art, words, windows and borders on every face"),
    ("invitations", "invitations", "Side fold with a liner"),
    ("dunes", "dunes", "A stepped concertina"),
    ("gate", "gate card", "A gate card with an insert and its envelope"),
    ("lock", "locking gate", "Doors that lock by a tongue, with a top flap"),
    ("corner", "corner slits", "A photograph held by slits"),
    ("collar", "collar card", "A strap that passes a slit"),
    ("prize", "prize money", "A rolled note held by straps"),
    ("stack", "layers on foam", "A kite in layers"),
    ("topper", "lifting flaps", "A topper with a row of motifs"),
    ("boathouse", "boat house", "A card from a file, with doors"),
    ("winners", "winners' cards", "Numerals that differ, gems and seeds"),
    ("helpers", "thank-you discs", "Discs hinged on themselves"),
    ("places", "place cards", "Many small cards"),
)
"""The demo jobs in the order of the menu: name, title, what it shows. Named here, so that the menu waits for no job."""

SCALES = (80, 90, 100, 110, 125, 150, 175, 200)
"""How large everything can be drawn, in percent."""

ACTIONS: tuple[ActionSpec, ...] = (
    ActionSpec("new", "New card", "Ctrl+N", "A plain folded card to begin with"),
    ActionSpec("start", "Begin…", "", "Jobs to go on with, a new card, the demo jobs as pictures"),
    ActionSpec("open", "Open…", "Ctrl+O", "Open a job from a file"),
    *(ActionSpec(f"demo-{name}", f"Demo: {title}", "", about) for name, title, about in DEMOS),
    ActionSpec("save", "Save", "Ctrl+S", "Save the job to its file"),
    ActionSpec("save-as", "Save as…", "Ctrl+Shift+S", "Save the job to another file"),
    ActionSpec("save-copy", "Save a copy…", "", "Write the job into another file as well; this one stays open"),
    ActionSpec("versions", "Versions…", "", "Earlier versions of this job: compare, open or restore one"),
    ActionSpec("undo", "Undo", "Ctrl+Z", "Undo the last edit"),
    ActionSpec("redo", "Redo", "Ctrl+Shift+Z", "Redo the last edit"),
    ActionSpec("export", "Export…", "Ctrl+E", "Write the mats, the run sheet and the lists into a folder"),
    ActionSpec("picture", "Picture of the card…", "", "The finished card from all sides, as PNG or PDF, to show"),
    ActionSpec("shelf", "Shelf…", "Ctrl+L", "Your own designs, words, recipes and papers, for any job"),
    ActionSpec("find", "Find", "Ctrl+F", "Find a piece, a number, a finding or an action"),
    ActionSpec("help", "Help", "F1", "What this screen does"),
    ActionSpec("theme", "Dark theme", "Ctrl+Shift+D", "Change between the light and the dark theme"),
    ActionSpec("theme-system", "Theme of the system", "", "Light or dark as the rest of the desktop is"),
    *(
        ActionSpec(f"scale-{percent}", f"{percent} %", "", f"Draw everything at {percent} % from the next start")
        for percent in SCALES
    ),
    ActionSpec("machine", "Machine profile…", "", "Cut area, speeds and holders of the machine"),
    ActionSpec("screen", "Measure this screen…", "", "So that “true size” is true: hold a bank card or a ruler to it"),
    ActionSpec("quit", "Quit", "Ctrl+Q", "Close the window"),
)

LOOKS_MENU: tuple[str, ...] = ("theme", "theme-system", "-", *(f"scale-{percent}" for percent in SCALES), "-", "screen")

JOB_MENU: tuple[str, ...] = (
    "start",
    "new",
    "open",
    "recent",
    "save",
    "save-as",
    "save-copy",
    "versions",
    "export",
    "picture",
    "shelf",
    "-",
    "demos",
    "-",
    "machine",
    "looks",
    "-",
    "quit",
)
