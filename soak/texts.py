"""What is typed, brought in and answered at random: good, odd and bad."""

from __future__ import annotations

from random import Random

LENGTHS = (
    "5 1/4", "133 mm", "10/2 - 1/16", "a6", "0", "-3", "1e9", "5,25", "7 in", "3.5", "0.2 mm", "1/0", "nan", "", "  ",
    "12", "25 mm", "1 1/2", "4 x 6", "999999999999", "1//2", "½", "３ in", "4 1/4 in", "60 mm", "90", "2",
)  # fmt: skip
WORDS = (
    "Kite Day", "Ahoy", "a", "", "x" * 3000, "line\nline\nline", "Ärger über Öl", "{name}", "{", "}{", "{{x}}",
    "日本語",
    "\u202eback", "\x07bell", "\ud800", "\ufffe", "tab\there", "=1+1", "<b>&amp;", "🪁🪁", "Dear {name}, come", "\x00",
)  # fmt: skip
FILES = {
    "square.svg": b'<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="40mm" viewBox="0 0 40 40">'
    b'<rect x="5" y="5" width="30" height="30"/></svg>',
    "card.svg": b'<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="150mm" viewBox="0 0 200 150">'
    b'<path d="M0 0H200V150H0Z" fill="none" stroke="#d02020"/><path d="M100 0V150" fill="none" stroke="#2060c0" '
    b'stroke-dasharray="4"/></svg>',
    "star.svg": b'<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">'
    b'<path d="M30 0L48 55L0 20H60L12 55Z"/></svg>',
    "broken.svg": b"<svg><path d='M 0 0 L",
    "empty.svg": b'<svg xmlns="http://www.w3.org/2000/svg" width="4mm" height="4mm"/>',
    "noise.png": b"\x89PNG\r\n\x1a\n" + bytes(range(256)),
    "not-a-font.ttf": b"\x00\x01\x00\x00" + b"\xff" * 100,
    "table.csv": b"name,age\nWilma,3\nBo,4\n",
}


def typed(random: Random, current: str) -> str:
    """A text for a line: often a length, sometimes words, sometimes what stands there a little changed."""
    kind = random.random()
    if kind < 0.55:
        return random.choice(LENGTHS)
    if kind < 0.8:
        return random.choice(WORDS)
    if kind < 0.9 and current:
        at = random.randrange(len(current))
        return current[:at] + random.choice("0123456789 /x-.") + current[at + 1 :]
    return f"{random.uniform(0.05, 12):.3g}"
