"""Recipes: chains of steps that turn what an item is drawn from into its outline, at its final size."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.dress.drawn import Drawn, Part
from dechirer.core.dress.outline import OUTLINE_ROLES, items_of, middle_of
from dechirer.core.dress.step import Step, StepSpec, spec_of
from dechirer.core.stopping import checkpoint


def cook(drawn: Drawn, steps: tuple[Step, ...], others: dict[str, Drawn]) -> Drawn:
    """Run a recipe.

    Args:
        others: what other items of the face are drawn as, by id, in this item's own place.
    """
    return (drawn, *cook_stages(drawn, steps, others))[-1]


def cook_stages(drawn: Drawn, steps: tuple[Step, ...], others: dict[str, Drawn]) -> tuple[Drawn, ...]:
    """What is there after each step of a recipe; arguments as for `cook`."""
    stages = []
    for step in steps:
        checkpoint(f"its step “{spec_of(step).title}”")
        rest: tuple[Part, ...] = ()
        if not spec_of(step).whole:
            # What is drawn, scored or printed on it has no part in its outline.
            main = tuple(part for part in drawn.parts if part.role in OUTLINE_ROLES)
            if main and len(main) < len(drawn.parts):
                rest = tuple(part for part in drawn.parts if part.role not in OUTLINE_ROLES)
                drawn = structs.replace(drawn, parts=main)
        drawn = run_step(drawn, step, others)
        if rest:
            drawn = structs.replace(drawn, parts=(*drawn.parts, *rest))
        stages.append(drawn)
    return tuple(stages)


def run_step(drawn: Drawn, step: Step, others: dict[str, Drawn]) -> Drawn:
    """One step. What it says of itself carries its id; steps that lose items or leave nothing say so."""
    spec, before = spec_of(step), len(drawn.remarks)
    done: Drawn = spec.run(drawn, step, others)
    done = _watch(drawn, done, step, spec)
    told = tuple(structs.replace(remark, step=step.id) for remark in done.remarks[before:])
    return structs.replace(done, remarks=(*done.remarks[:before], *told)) if told else done


def _watch(drawn: Drawn, done: Drawn, step: Step, spec: StepSpec) -> Drawn:
    """What a step lost or broke, said."""
    if not drawn.is_empty and done.is_empty:
        return done.with_remark("gone", f"“{spec.title}” leaves nothing", middle_of(drawn))
    if not (spec.may_lose or spec.may_break):
        return done
    before, after = len(items_of(drawn)), len(items_of(done))
    if spec.may_lose and 0 < after < before and not joins(step):
        done = done.with_remark("lost", f"“{spec.title}” loses {before - after} of {before} parts", middle_of(done))
    if spec.may_break and after > before > 0:
        done = done.with_remark("broken", f"“{spec.title}” breaks it into {after} parts", middle_of(done))
    return done


def joins(step: Step) -> bool:
    """Whether a step is meant to make fewer outlines: one that moves them out, and not each by itself."""
    by = getattr(step, "by", None)
    return by is not None and by.mm > 0 and not getattr(step, "each", True)
