"""The book's pictures, its versions, and a backup that is put back."""

from __future__ import annotations

import io
import sqlite3
from pathlib import Path

import pytest
from PIL import Image

from dechirer.core.keep.entries import Note, Photo
from dechirer.formats.book.exchange import read_exported, write_export
from dechirer.formats.book.migrations import STEPS, VERSION
from dechirer.formats.book.photographs import LONGEST_PX, PhotoError, make_small
from dechirer.formats.book.schema import BookError
from dechirer.formats.book.store import NAME, Book

NOTE = Note("note-1", "2026-05-02", "Kite Day", "film off before loading")
ORIENTATION, MAKE, GPS = 0x0112, 0x010F, 0x8825


def photograph(folder: Path, size: tuple[int, int] = (3000, 2000)) -> Path:
    """A picture as a camera held sideways writes it: red above, blue below once upright, with its place in it."""
    image = Image.new("RGB", size, (200, 20, 20))
    image.paste((20, 20, 200), (0, 0, size[0] // 2, size[1]))
    about = Image.Exif()
    about[ORIENTATION], about[MAKE] = 6, "a camera"  # 6: to be turned a quarter to the right
    about.get_ifd(GPS)[1] = "N"
    image.save(folder / "card.jpg", exif=about)
    return folder / "card.jpg"


def test_a_photograph_is_made_upright_and_small_and_tells_nothing_of_the_maker(tmp_path: Path) -> None:
    small = make_small(photograph(tmp_path))
    image = Image.open(io.BytesIO(small.data))
    assert image.size == (small.width, small.height)
    assert max(image.size) == LONGEST_PX
    assert small.height > small.width
    assert len(small.data) < 200_000
    assert not dict(image.getexif())
    top, foot = image.getpixel((50, 10)), image.getpixel((50, small.height - 10))
    assert isinstance(top, tuple)
    assert isinstance(foot, tuple)
    assert top[2] > 150 > top[0]  # the left half of what the camera wrote is above
    assert foot[0] > 150 > foot[2]


@pytest.mark.parametrize(
    ("content", "words"),
    [(b"no picture", "is no PNG, JPEG"), (b"\xff\xd8\xff" + b"x" * 400, "."), (b"", "is no PNG, JPEG")],
)
def test_what_is_no_picture_is_refused_by_its_name(tmp_path: Path, content: bytes, words: str) -> None:
    (tmp_path / "odd.jpg").write_bytes(content)
    with pytest.raises(PhotoError, match=r"^odd\.jpg") as told:
        make_small(tmp_path / "odd.jpg")
    assert words in str(told.value)
    with pytest.raises(PhotoError, match="folder"):
        make_small(tmp_path)


def test_pictures_are_kept_go_out_and_in_and_go_with_their_entry(tmp_path: Path) -> None:
    small = make_small(photograph(tmp_path, (400, 300)))
    photo = Photo("photo-1", "2026-05-02", "Kite Day", small.width, small.height, "the tear")
    book = Book(tmp_path / NAME)
    book.keep([photo, NOTE], {photo.id: small.data})
    (tmp_path / "all.json").write_bytes(write_export(book, as_table=False))
    taken = read_exported(tmp_path / "all.json")
    assert taken.pictures == {"photo-1": small.data}
    other = Book(tmp_path / "other.sqlite")
    other.keep(taken.entries, taken.pictures)
    assert other.picture("photo-1") == small.data
    assert read_exported(book.path).pictures == taken.pictures
    book.keep([Photo("photo-1", "2026-05-02", "Kite Day", small.width, small.height, "the tear, from near")])
    assert book.picture("photo-1") == small.data  # words put right
    book.drop("photo", "photo-1")
    assert book.picture("photo-1") is None
    (tmp_path / "bad.json").write_text(
        '{"kind": "note", "id": "a", "made": "2026-05-02", "about": "x", "picture": "AA"}'
    )
    with pytest.raises(BookError, match="line 1"):
        read_exported(tmp_path / "bad.json")


@pytest.mark.parametrize("version", range(VERSION))
def test_a_book_of_every_version_is_brought_to_this_one_with_all_that_is_in_it(tmp_path: Path, version: int) -> None:
    path = tmp_path / NAME
    made = sqlite3.connect(path)
    for step in STEPS[:version]:
        for words in step:
            made.execute(words)
    made.execute(f"PRAGMA user_version = {version}")
    if version:
        body = '{"id": "note-1", "made": "2026-05-02", "about": "Kite Day", "words": "film off before loading"}'
        made.execute("INSERT INTO entries VALUES ('note', 'note-1', '2026-05-02', 'note kite day film', ?)", (body,))
    made.commit()
    made.close()
    book = Book(path)
    assert book.entries() == ((NOTE,) if version else ())
    book.keep([NOTE])
    assert book.picture("none") is None
    assert book.connection.execute("PRAGMA user_version").fetchone() == (VERSION,)


def test_a_backup_is_put_back_and_what_was_there_is_kept(tmp_path: Path) -> None:
    book, window = Book(tmp_path / NAME), Book(tmp_path / NAME)
    book.keep([NOTE])
    book.back_up(tmp_path / "copy.sqlite")
    book.keep([Note("note-2", "2026-05-03", "Kite Day", "later")])
    assert window.count() == 2
    aside = book.restore(tmp_path / "copy.sqlite")
    assert aside is not None
    assert book.entries() == window.entries() == (NOTE,)
    assert Book(aside).count() == 2
    window.keep([Note("note-3", "2026-05-03", "Kite Day", "and on")])
    assert book.count() == 2


def test_what_is_no_whole_book_is_not_put_back(tmp_path: Path) -> None:
    book = Book(tmp_path / NAME)
    book.keep([NOTE])
    (tmp_path / "odd.sqlite").write_bytes(b"no book" * 2000)
    book.back_up(tmp_path / "torn.sqlite")
    content = bytearray((tmp_path / "torn.sqlite").read_bytes())
    content[4096:8192] = b"\xff" * 4096
    (tmp_path / "torn.sqlite").write_bytes(content)
    newer = tmp_path / "newer.sqlite"
    book.back_up(newer)
    made = sqlite3.connect(newer)
    made.execute(f"PRAGMA user_version = {VERSION + 1}")
    made.close()
    for name in ("odd.sqlite", "torn.sqlite", "newer.sqlite", "none.sqlite"):
        with pytest.raises(BookError, match=name):
            book.restore(tmp_path / name)
    assert book.entries() == (NOTE,)
    assert not list(tmp_path.glob("book-before*"))
