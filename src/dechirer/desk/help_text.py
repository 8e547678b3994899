"""What each screen does, for F1."""

from __future__ import annotations

COMMON = (
    "Numbers with a dotted underline can be typed into: click one, type 5 1/4, 133 mm, 10/2 - 1/16 or a6, and press "
    "Enter. Every other number can be clicked to see where it comes from. Arrow keys walk through the numbers of a "
    "drawing, Enter edits the marked one, Escape leaves it. Alt+1 to Alt+5 change the station."
)

STATION_HELP: dict[str, str] = {
    "brief": "Say what the finished card is: its size on the drawing, how it folds, how many, the paper and the "
    "machine. Everything else follows.",
    "construct": "See every flat piece to scale with its score line, and the card folding beside it. Type into the "
    "dimensions of either drawing; what has no place there stands above it. “Add” glues in or on what the card has. "
    "The slider folds the card step by step. Mountain folds are dash-dot, valley folds are dashed, seen "
    "from the side that is cut.",
    "dress": "A face lies in front of you as it will be seen. Bring in art by the button, by dropping a file or by "
    "pasting; add words. Drag an item, or type into its measures; “across” and “down” say what it is kept to when "
    "the card changes. The recipe below makes its outline step by step: type a measure, or drag its name sideways. "
    "Hot marks show where the paper is too narrow; the small pictures show the card, and where everything lands on "
    "the flat piece.",
    "lay": "See what goes on each mat and which way the sheet goes in. Drag a piece to pin it elsewhere; R turns the "
    "picked piece; the dotted frame is what the machine reaches.",
    "run": "See the order of passes on each mat with the tool and holder of each, and step along the tool's path. "
    "Tick the tools you own; the run is planned with them.",
}

CARE = (
    "Take care: blades, picks and craft knives cut; foil tips get hot. Switch the machine off before changing a blade, "
    "keep fingers clear of the carriage, and keep small parts from small children. Your machine's manual and local "
    "rules come first."
)
