"""The whole jobs makers do, as far as today's stations carry them: each from an empty start, by what a maker types and
picks. Numbers in the names are those of the list of jobs they stand for."""

from __future__ import annotations

from msgspec.structs import replace

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import load_machines
from dechirer.core.brought import Art, ArtGroup
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.dress.apart import take_apart
from dechirer.core.dress.decisions import Column, Copies, Dress, Item, Row, table_of
from dechirer.core.dress.edits import correct_scale
from dechirer.core.dress.shapes import make_shape
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import set_loading
from dechirer.core.laying_together import invite, plan_other
from dechirer.core.length import parse_length
from dechirer.core.plan import make_plan
from dechirer.core.starting import take_card
from tests.card_files import LOCK_FILES, LOCK_SQUARE, STRINGS_FILE, read
from tests.dressing import art, box_path, item, step, words
from tests.helpers import attached, changed, quick_job, typed

PAPERS = (
    Paper("card", "shell white cover", "#f7f4ec", "65 lb cover", Size(parse_length("12 in"), parse_length("12 in"))),
    Paper("navy", "harbour navy", "#22305c", "65 lb cover", Size(parse_length("12 in"), parse_length("12 in"))),
    Paper("foil", "gold foil paper", "#d9a520", "80 lb text", Size(parse_length("12 in"), parse_length("12 in"))),
    Paper("heavy", "dune card", "#c9a878", "110 lb cover", Size(parse_length("12 in"), parse_length("12 in"))),
)
TOOLS = ("thin-card-blade", "thick-card-blade", "creasing-point", "pen", "hot-foil-tip")


def start(size: str, fold: str, *, count: int = 1, paper: str = "card", liner: str = "", units: str = "in") -> Job:
    """An empty job on the usual papers, with the tools of a well kept desk."""
    job = quick_job(size, fold=fold, count=count, liner=liner, units=units)
    construct = job.construct
    if construct.liner is not None:
        construct = replace(construct, liner=replace(construct.liner, paper="card"))
    brief = replace(job.brief, papers=PAPERS, base_paper=paper)
    return changed(job, construct=construct, brief=brief, run__tools=TOOLS)


def dress(job: Job, *items: Item, arts: tuple[Art, ...] = (), **more: object) -> Job:
    """The job with items on its faces."""
    return changed(job, dress=Dress(art=arts, items=items, **more))  # type: ignore[arg-type]


def types(job: Job, **texts: str) -> Job:
    """Texts typed one after the other; `__` stands for a dot."""
    for path, text in texts.items():
        job = typed(job, path.replace("__", "."), text)
    return job


RING = art(
    groups=(ArtGroup("ring", "ring", "cut", (f"{box_path(60, 60)} {box_path(40, 40, 10, 10)}",), rule="evenodd"),),
    width=60.0,
    height=60.0,
)
HILL = art("M 0 60 L 0 30 C 20 -5 40 -5 60 10 L 100 45 L 100 60 Z", id="hill", width=100.0, height=60.0)
KITE = "M 30 0 L 60 40 L 30 100 L 0 40 Z"
FIGURE = art(
    groups=(ArtGroup("kite", "kite", "cut", (f"{KITE} M 30 14 L 47 40 L 30 76 L 13 40 Z",), rule="evenodd"),),
    width=60.0,
    height=100.0,
    id="figure",
)


def job_1_slit_cards(size: str = "4.25 x 5.5 in", count: int = 4) -> Job:
    """Bought folded blanks with corner slits round an insert behind the front, and pen lines."""
    wide, high = (float(part) for part in size.removesuffix(" in").split(" x "))
    job = start(size.replace(" ", ""), "side-fold", count=count)
    job = attached(types(job, brief__blank=f"{2 * wide} x {high} in"), "slits")
    job = changed(job, construct__slits__lies="behind-front", construct__slits__paper="navy")
    job = types(job, construct__slits__ease="2 mm")
    greeting = item("hello", made="pen", words=words("Fair winds", face="line-script", size="9 mm"))
    return dress(job, greeting)


def job_1_both_sizes() -> Job:
    """Four small and four large cards of four designs, two of each, on common mats: two loads, one size a load."""

    def designs(size: str, names: tuple[str, ...]) -> Job:
        job = job_1_slit_cards(size, len(names))
        items = (replace(job.dress.items[0], words=replace(job.dress.items[0].words, text="{design}")),)
        columns = (Column("design"), Column("insert", sets="paper", piece="insert"), Column("pen", sets="pen"))
        rows = tuple(Row((name, "navy" if place % 2 else "foil", "black")) for place, name in enumerate(names))
        return changed(job, dress__items=items, dress__copies=Copies(columns, rows), name=size)

    small = designs("4.25 x 5.5 in", ("Wren", "Gull", "Wren", "Dune"))
    large = designs("5 x 7 in", ("Kite", "Gull", "Dune", "Kite"))
    return apply_changes(small, invite(small, large, plan_other(large)))


def job_2_window_with_foil_behind(reveal: str = "1/16") -> Job:
    """5 x 7 side fold, liner of the same paper, a ring-shaped window whose middle is set back, foil at hand behind it,
    words on the front and in the liner."""
    job = start("5x7in", "side-fold", liner=reveal)
    return dress(
        job,
        item(
            "ring",
            made="window",
            width="60 mm",
            islands="keep",
            paper="foil",
            margin="1/4 in",
            backer_size=Size(parse_length("4.5 in"), parse_length("4.5 in")),
        ),
        item(
            "front-words", made="pen", words=words("Ahoy", face="line-script", size="11 mm"), down="bottom", y="12 mm"
        ),
        item(
            "inside-words",
            "liner/inside right",
            made="pen",
            words=words("Come to the marsh", face="line-plain", size="6 mm"),
        ),
        arts=(replace(RING, id="art"),),
    )


def job_3_disc_hinged_at_its_top() -> Job:
    """A disc card with a hinge of 1 1/2 in, layers on foam, and a petal envelope for it."""
    job = attached(start("5.25x5.25in", "hinged-shape", paper="heavy"), "envelope")
    job = types(job, construct__hinged_shape__hinge="1 1/2 in")
    layers = (
        item("disc", made="piece", art="shape-disc", width="80 mm", foam="2 mm", paper="navy"),
        item("kite", made="piece", art="figure", width="30 mm", foam="1 mm", paper="foil", steps=(step("outermost"),)),
    )
    return dress(changed(job, construct__envelope__style="petal"), *layers, arts=(make_shape("disc"), FIGURE))


def job_4_figure_cut_as_a_frame(width: str = "3 3/4 in") -> Job:
    """A figure of nested outlines, its parts inset to webs of 1 mm, on a backing 1 mm larger all round."""
    job = start("5x7in", "side-fold", paper="heavy")
    return dress(
        job,
        item(
            "backing",
            made="piece",
            of="frame",
            art=None,
            steps=(step("outermost"), step("border", by="1 mm")),
            paper="navy",
        ),
        item("frame", made="piece", art="figure", width=width, steps=(step("border", by="1 mm"),), paper="card"),
        arts=(FIGURE,),
    )


def job_5_peel_away(machine: str = "heron-12", mat: str = "") -> Job:
    """A kiss cut shape over an adhesive backer, and pen lines, on a bought blank, in slots or in a corner."""
    job = types(start("4.25x5.5in", "side-fold", count=4), brief__blank="8.5 x 5.5 in")
    job = changed(job, brief__machine=load_machines()[machine])
    if mat:
        job = apply_changes(job, [set_loading(job.lay, "card", mat=mat)])
    job = changed(attached(job, "peel"), construct__peel__paper="foil")
    return dress(
        job, item("open", made="pen", words=words("Peel me", face="line-plain", size="6 mm"), down="bottom", y="10 mm")
    )


def job_6_window_above() -> Job:
    """6 x 4 from 6 x 8, a window in the upper half with a panel behind it."""
    job = attached(start("6x4in", "top-fold"), "window")
    job = changed(job, construct__window__paper="navy")
    return types(
        job, construct__window__width="3 in", construct__window__height="2 in", construct__window__margin="1/4 in"
    )


def job_7_foiled_card_and_envelope() -> Job:
    """Words and a figure in foil on the front, and an envelope."""
    job = attached(start("5x7in", "side-fold"), "envelope")
    return dress(
        job,
        item(
            "words", made="foil", words=words("Good wind", face="line-script", size="12 mm"), down="bottom", y="20 mm"
        ),
        item("figure", made="foil", art="figure", width="40 mm", down="top", y="20 mm"),
        arts=(FIGURE,),
    )


def job_8_labels_on_borders() -> Job:
    """One picture with two items, taken apart, each on a border of its own from coloured card, on foam."""
    two = art(box_path(40, 25), box_path(30, 30, 60, 0), width=90.0, height=30.0)
    job = dress(start("5x7in", "side-fold"), item("label", made="piece", paper="foil", width="4 in"), arts=(two,))
    job = apply_changes(job, take_apart(job, make_plan(job).dress.items[0]))
    borders = tuple(
        item(
            f"border-{each.id}",
            made="piece",
            of=each.id,
            steps=(step("border", by="1/8 in"),),
            paper="navy",
            art=None,
            foam="2 mm",
        )
        for each in job.dress.items
    )
    return apply_changes(job, [Change("dress.items", (*borders, *job.dress.items))])


def job_9_concertina_scene() -> Job:
    """Two sections joined by a tab, 5 x 7 closed, a hill from a file in front, and an envelope with an inlay."""
    job = attached(start("5x7in", "concertina", paper="heavy"), "envelope")
    job = changed(
        job, construct__concertina__top="file", construct__concertina__art="hill", construct__envelope__inlay="foil"
    )
    job = types(job, construct__concertina__panels="4", construct__concertina__step="1/2 in")
    return dress(
        job,
        item("opening", face="envelope/address side", made="window", width="30 mm"),
        arts=(art(box_path(30, 20), width=30.0, height=20.0), HILL),
    )


def job_10_eight_cards_one_worded_otherwise(names: tuple[str, ...] = (*["our friends"] * 7, "Aunt Wilma")) -> Job:
    """Top fold 5.5 x 4, seven of one wording and one of another."""
    job = start("5.5x4in", "top-fold", count=8)
    return dress(
        job,
        item("to", made="pen", words=words("For {name}", face="line-plain", size="6 mm")),
        copies=table_of(("name",), tuple((name,) for name in names)),
    )


def job_11_locking_gate_from_a_file(version: str = "scored", data: bytes = b"") -> Job:
    """Another's lock card in one of its two versions, sized by the square of 2 3/4 in that is in it."""
    job = start("5x7in", "side-fold", count=2, paper="heavy")
    file = read("lock.svg", data or LOCK_FILES[version])
    job = apply_changes(job, take_card(job, file))
    drawn = LOCK_SQUARE
    job = apply_changes(job, correct_scale(job, job.dress.art[0], drawn, 2.75 * 25.4))
    found = make_plan(job)
    mend = next(each for each in found.findings if each.code == "construct.file-size").mends[0]
    job = apply_changes(job, mend.changes)
    return changed(job, dress__art__lock__locked=True)


def job_12_money_holder(size: str = "5x4in") -> Job:
    """Two straps round a rolled note."""
    return start(size, "money-holder", paper="heavy")


def job_13_envelope_alone(size: str = "6x4in", style: str = "hexagon") -> Job:
    """An envelope for a card of paper without thickness to speak of."""
    job = attached(start(size, "flat"), "envelope")
    job = types(job, brief__papers__card__thickness="0.02 mm", construct__envelope__ease="1/4 in")
    return changed(job, construct__envelope__style=style)


def job_14_collar_with_strap() -> Job:
    """A collar card whose strap passes a slit, faced, with shadowed words."""
    job = changed(start("4.5x6in", "collar", paper="heavy"), construct__collar__facing="navy")
    job = changed(job, **{"construct__folds__base-fold-back__kind": "ticks"})
    return dress(
        job,
        item("shadow", made="piece", of="word", art=None, steps=(step("border", by="2.4 mm"),), paper="navy"),
        item(
            "word",
            made="piece",
            words=words("Moin", face="lora", size="16 mm"),
            paper="foil",
            down="bottom",
            y="20 mm",
            steps=(step("border", by="1 mm"),),
        ),
    )


def job_15_edge_topper() -> Job:
    """A row of eight motifs 19, 13, 16, 13 mm twice, by equal gaps over 188 mm."""
    from dechirer.core.construct.kinds.flap_row import Motif

    job = start("188x60mm", "flap-row", paper="heavy", units="mm")
    sizes = (19, 13, 16, 13, 19, 13, 16, 13)
    motifs = tuple(
        Motif(
            f"motif-{number}",
            "kite",
            parse_length(f"{wide} mm"),
            parse_length(f"{wide + 4} mm"),
            "flaps" if wide > 14 else "whole",
        )
        for number, wide in enumerate(sizes, start=1)
    )
    return changed(job, construct__flap_row__motifs=motifs)


def job_16_stack_on_foam() -> Job:
    """Three crops on foam, the largest 4.9 in on 5.2."""
    job = attached(start("5.25x5.25in", "top-fold", paper="heavy"), "stack", "envelope")
    job = changed(
        job, construct__stack__paper="card", construct__stack__border_paper="navy", construct__envelope__style="petal"
    )
    return types(
        job,
        construct__stack__width="4.9 in",
        construct__stack__height="4.9 in",
        construct__stack__border="0.15 in",
        construct__stack__step="1/2 in",
    )


def job_17_concertina_from_a_file(envelope: str = "9 in") -> Job:
    """Three sections from one file with nested groups, strings drawn by a pen, joined by their tabs; letters on foam;
    an envelope of 6.5 x 9 in."""
    job = start("5x7in", "side-fold", paper="heavy")
    job = apply_changes(job, take_card(job, read("strings.svg", STRINGS_FILE)))
    job = attached(changed(job, construct__from_file__joined=True), "bought")
    job = changed(job, construct__bought__size=Size(parse_length("6.5 in"), parse_length(envelope)))
    letters = item(
        "letters",
        "panel 3",
        made="piece",
        words=words("FLY", face="lora", size="24 mm"),
        paper="navy",
        foam="1.5 mm",
        steps=(step("border", by="1 mm"),),
    )
    return dress(job, letters, arts=job.dress.art)


GOOD = {
    "1 small": job_1_slit_cards,
    "1 large": lambda: job_1_slit_cards("5 x 7 in"),
    "1 both sizes": job_1_both_sizes,
    "2": job_2_window_with_foil_behind,
    "3": job_3_disc_hinged_at_its_top,
    "4": job_4_figure_cut_as_a_frame,
    "5": job_5_peel_away,
    "5 on the small machine": lambda: job_5_peel_away("wren-card"),
    "5 without slots": lambda: job_5_peel_away(mat="main"),
    "6": job_6_window_above,
    "7": job_7_foiled_card_and_envelope,
    "8": job_8_labels_on_borders,
    "9": job_9_concertina_scene,
    "10": job_10_eight_cards_one_worded_otherwise,
    "12": job_12_money_holder,
    "13 lying": job_13_envelope_alone,
    "13 upright": lambda: job_13_envelope_alone("4x6in"),
    "14": job_14_collar_with_strap,
    "15": job_15_edge_topper,
    "16": job_16_stack_on_foam,
    "11 scored": job_11_locking_gate_from_a_file,
    "11 dashed": lambda: job_11_locking_gate_from_a_file("dashed"),
    "17": job_17_concertina_from_a_file,
}
