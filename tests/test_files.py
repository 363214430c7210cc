"""Files that are no files, saves that fail half way, links, locks and what a killed save leaves."""

import errno
import os
import socket
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

from wattagon import files
from wattagon.errors import FileError


class ReadTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_what_is_no_ordinary_file_is_named_and_never_waited_for(self):
        pipe, door = self.folder / "pipe", self.folder / "door"
        os.mkfifo(pipe)
        with socket.socket(socket.AF_UNIX) as listening:
            listening.bind(str(door))
            cases = (
                (pipe, "a pipe"),
                (self.folder, "a folder"),
                (Path("/dev/zero"), "a device"),
                (Path("a\0b"), "cannot be a file's name"),
            )
            start = time.monotonic()
            for path, words in cases:
                with self.subTest(words), self.assertRaisesRegex(FileError, words):
                    files.read_bytes(path, 100)
            with self.assertRaises(FileError):
                files.read_bytes(door, 100)
            self.assertLess(time.monotonic() - start, 2.0)

    def test_size_is_bounded_at_the_byte(self):
        path = self.folder / "x"
        path.write_bytes(b"a" * 100)
        self.assertEqual(len(files.read_bytes(path, 100)), 100)
        with self.assertRaisesRegex(FileError, "too large"):
            files.read_bytes(path, 99)

    def test_a_missing_or_over_long_name_is_a_sentence_of_one_line(self):
        for name in ("nothing", "n" * 300, "line\nbreak", "\udcff"):
            with self.subTest(name[:8]), self.assertRaises(FileError) as caught:
                files.read_bytes(self.folder / name, 10)
            words = str(caught.exception)
            words.encode("utf-8")
            self.assertNotIn("\n", words)
            self.assertLess(len(words), 300)


class WriteTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path = self.folder / "x.txt"

    def left(self) -> list[str]:
        return sorted(p.name for p in self.folder.iterdir())

    def test_a_full_disk_leaves_the_older_file_and_nothing_else(self):
        self.path.write_bytes(b"old")
        with (
            mock.patch("os.fsync", side_effect=OSError(errno.ENOSPC, "No space left on device")),
            self.assertRaisesRegex(FileError, "No space left"),
        ):
            files.write_bytes(self.path, b"new")
        self.assertEqual((self.path.read_bytes(), self.left()), (b"old", ["x.txt"]))

    def test_a_failure_while_the_content_is_made_leaves_the_older_file(self):
        self.path.write_bytes(b"old")
        with self.assertRaises(KeyError), files.replacing(self.path) as stream:
            stream.write(b"half")
            raise KeyError
        self.assertEqual((self.path.read_bytes(), self.left()), (b"old", ["x.txt"]))

    def test_links_are_followed_and_stay_links(self):
        self.path.write_bytes(b"old")
        link = self.folder / "link"
        link.symlink_to("x.txt")
        files.write_bytes(link, b"new")
        self.assertTrue(link.is_symlink())
        self.assertEqual(self.path.read_bytes(), b"new")

    def test_read_only_stays(self):
        self.path.write_bytes(b"old")
        self.path.chmod(0o444)
        with self.assertRaisesRegex(FileError, "read-only"):
            files.write_bytes(self.path, b"new")
        self.assertEqual(self.path.read_bytes(), b"old")

    def test_the_mode_of_a_file_stays(self):
        self.path.write_bytes(b"old")
        self.path.chmod(0o640)
        files.write_bytes(self.path, b"new")
        self.assertEqual(self.path.stat().st_mode & 0o777, 0o640)

    def test_folders_and_pipes_are_not_written_over(self):
        pipe = self.folder / "pipe"
        os.mkfifo(pipe)
        for path, words in ((pipe, "a pipe"), (self.folder, "a folder")):
            with self.subTest(words), self.assertRaisesRegex(FileError, words):
                files.write_bytes(path, b"x")

    def test_a_name_as_long_as_the_file_system_allows_is_saved_with_its_previous_version(self):
        path = self.folder / ("n" * 255)
        files.write_bytes(path, b"one")
        keep = files.beside(path, ".previous")
        with files.replacing(path, keep) as stream:
            stream.write(b"two")
        self.assertEqual((path.read_bytes(), keep.read_bytes()), (b"two", b"one"))

    def test_what_a_killed_save_left_is_swept_away_by_the_next_but_not_what_goes_on(self):
        with files.replacing(self.path) as stream:
            stream.write(b"x")
            going_on = next(self.folder.glob(".*.part"))
            stale = going_on.with_name(going_on.name.replace(".part", "s.part"))
            stale.write_bytes(b"half")
            for part in (stale, going_on):
                os.utime(part, (time.time() - 60, time.time() - 60))
            files.write_bytes(self.path, b"between")
            self.assertTrue(going_on.exists())
            self.assertFalse(stale.exists())
        self.assertEqual((self.path.read_bytes(), self.left()), (b"x", ["x.txt"]))
