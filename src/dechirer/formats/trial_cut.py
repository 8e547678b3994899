"""The file of a trial cut: a cross where the middle of a blank's front should be, with its mat at true size."""

from __future__ import annotations

from dechirer.core.card.mat import Mat

ARM_MM = 12.0


def write_trial_cut(mat: Mat, width: float, height: float) -> bytes:
    """A cross in the middle of a front of that size (mm) that lies in the mat's corner, as SVG."""
    x, y = width / 2, height / 2
    wide, high = f"{mat.width:g}", f"{mat.height:g}"
    lines = (
        f'    <path id="across" d="M {x - ARM_MM:.4f} {y:.4f} L {x + ARM_MM:.4f} {y:.4f}"/>\n'
        f'    <path id="down" d="M {x:.4f} {y - ARM_MM:.4f} L {x:.4f} {y + ARM_MM:.4f}"/>\n'
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}mm" height="{high}mm" viewBox="0 0 {wide} {high}" '
        'fill="none" stroke-width="0.2">\n  <title>Trial cut in the corner</title>\n'
        f'  <g data-operation="cut" stroke="#000000">\n{lines}  </g>\n</svg>\n'
    ).encode()
