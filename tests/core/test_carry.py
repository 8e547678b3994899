"""Things of one job used again in another: nothing is lost on the way, and nothing of the other job is overwritten."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace

from dechirer.core.dress.carry import keep_items, put_kept, put_papers, put_recipe
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from dechirer.formats.job.archive import ArchiveError
from dechirer.formats.shelf import keep_paper, list_shelf, read_kept, write_kept
from tests.dressing import dressed, item, square, step, words
from tests.helpers import quick_job


def sizes(plan: Plan, *ids: str) -> list[tuple[float, float]]:
    """Width and height of what items are drawn as."""
    found = []
    for id in ids:
        dressed_item = plan.dress.item(id)
        assert dressed_item is not None, id
        left, top, right, bottom = dressed_item.placed.drawn.box()
        found.append((round(right - left, 3), round(bottom - top, 3)))
    return found


def front(job: Job):
    spot = make_plan(job).dress.spot("front")
    assert spot is not None
    return spot


def test_an_item_comes_with_all_it_is_made_of_and_is_drawn_as_it_was(tmp_path: Path) -> None:
    demo = load_demo_job("kites")
    wanted = [demo.dress.item("greeting-shadow")]
    kept = keep_items(demo, [each for each in wanted if each is not None])
    assert {each.id for each in kept.dress.items} >= {"greeting-shadow", "greeting"}
    shelved = read_kept(write_kept(tmp_path, "shadow", kept))
    job = quick_job("5x7in")
    there = apply_changes(job, put_kept(job, shelved.kept, front(job)))
    before, after = make_plan(demo), make_plan(there)
    new = {each.name: each.id for each in there.dress.items}
    for each in kept.dress.items:
        assert sizes(before, each.id) == sizes(after, new[each.name]), each.name
    assert all(each.face == "front" for each in there.dress.items)
    # The papers they are cut from have come too, under ids of their own.
    colours = {paper.id: paper.colour for paper in there.brief.papers}
    for each in there.dress.items:
        if each.paper is not None:
            old = next(other for other in demo.dress.items if other.name == each.name)
            assert colours[each.paper] == next(p.colour for p in demo.brief.papers if p.id == old.paper)


def test_put_twice_art_and_papers_are_there_once_and_ids_are_new() -> None:
    one = item("one", paper="liner-paper", steps=(step("border", by="2 mm"),), together="set")
    two = item("two", made="guide", art=None, of="one", together="set")
    job = dressed(one, two)
    kept = keep_items(job, job.dress.items)
    for _ in range(2):
        job = apply_changes(job, put_kept(job, kept, front(job)))
    assert len(job.dress.art) == 1
    assert len(job.brief.papers) == len(dressed(one).brief.papers)
    ids = [each.id for each in job.dress.items]
    assert len(set(ids)) == 6
    for copy in (job.dress.items[2:4], job.dress.items[4:]):
        assert copy[1].of == copy[0].id
        assert copy[0].together == copy[1].together
    assert len({each.together for each in job.dress.items}) == 3


def test_other_art_of_the_same_id_is_kept_apart() -> None:
    kept = keep_items(dressed(item("one", width="10 mm")), [item("one", width="10 mm")])
    other = dressed(item("own", width="15 mm"))
    other = apply_changes(other, ())
    other = replace(other, dress=replace(other.dress, art=(square(33.0),)))
    there = apply_changes(other, put_kept(other, kept, front(other)))
    assert [art.id for art in there.dress.art] == ["art", "art-2"]
    assert [art.width for art in there.dress.art] == [33.0, 20.0]
    assert there.dress.items[-1].art == "art-2"


def test_a_recipe_is_given_without_the_steps_that_ask_for_others() -> None:
    source = item("source", steps=(step("border", by="2 mm"), step("cut", of="other")))
    job = dressed(source, item("other"), item("target"))
    kept = keep_items(job, [source])
    there = apply_changes(job, put_recipe(job, job.dress.items[2], kept))
    assert [each.kind for each in there.dress.items[2].steps] == ["border"]
    plain = keep_items(job, [job.dress.items[1]])
    assert put_recipe(job, job.dress.items[2], plain) == ()


def test_a_paper_is_kept_and_comes_once(tmp_path: Path) -> None:
    demo = load_demo_job("kites")
    orange = next(paper for paper in demo.brief.papers if paper.name == "kite orange")
    shelved = read_kept(write_kept(tmp_path, orange.name, keep_paper(orange)))
    assert shelved.is_paper
    assert [paper.name for paper in shelved.kept.papers] == ["kite orange"]
    job = quick_job("5x7in")
    there = apply_changes(job, put_papers(job, shelved.kept.papers))
    assert there.brief.papers[-1].colour == orange.colour
    assert there.brief.papers[-1].on_hand is None
    assert put_papers(there, shelved.kept.papers) == ()


@pytest.mark.parametrize("name", ["a/b\x00c", "...", "Kite Day", "ÄÖ 5×7", "x" * 300])
def test_anything_can_be_a_name_and_two_of_a_name_lie_beside_each_other(tmp_path: Path, name: str) -> None:
    kept = keep_items(dressed(item()), [item()])
    first, second = (write_kept(tmp_path, name.replace("\x00", "")[:100], kept) for _ in range(2))
    assert first.parent == tmp_path
    assert first != second
    assert set(list_shelf(tmp_path)) == {first, second}


def test_the_shelf_is_read_as_carefully_as_a_job(tmp_path: Path) -> None:
    (tmp_path / "bad.kept").write_bytes(b"PK\x03\x04 nothing")
    with pytest.raises(ArchiveError, match=r"bad\.kept"):
        read_kept(tmp_path / "bad.kept")
    assert list_shelf(tmp_path / "nowhere") == []
    kept = keep_items(dressed(item(art=None, words=words("Tide"))), [item(art=None, words=words("Tide"))])
    (tmp_path / "a file").write_text("in the way")
    with pytest.raises(OSError, match="a file"):
        write_kept(tmp_path / "a file", "x", kept)
