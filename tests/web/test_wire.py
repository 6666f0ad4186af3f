"""What goes over the wire: the first page is small, and what is compressed is the same."""

import gzip
import re
import tempfile
import unittest
from pathlib import Path

import brotli

from reamer.web import create_app
from reamer.web.settings import STATIC, Settings


class Wire(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.client = create_app(Settings(Path(folder.name) / "t.sqlite3", hosts=("localhost",))).test_client()

    def get(self, path, encoding="gzip, deflate"):
        got = self.client.get(path, headers={"Accept-Encoding": encoding})
        self.addCleanup(got.close)
        self.assertEqual(got.status_code, 200, path)
        return got

    def first(self):
        page = self.get("/").headers
        self.assertEqual(page["Vary"], "Accept-Encoding")
        named = re.findall(r'(?:src|href)="(/[^"]+)"', (STATIC / "index.html").read_text())
        later = [f"/assets/{f.name}" for k in ("PlanList-*.js", "*.woff2") for f in (STATIC / "assets").glob(k)]
        return list(dict.fromkeys(["/", *named, *later, "/api/plans", "/api/bin"]))

    def test_the_first_page_is_small_on_the_wire(self):
        paths = self.first()
        self.assertGreaterEqual(len(paths), 8, paths)
        for encoding, most in (("gzip, deflate", 200_000), ("gzip, deflate, br", 170_000)):
            self.assertLessEqual(sum(len(self.get(p, encoding).data) for p in paths), most, encoding)

    def test_what_is_compressed_is_the_same_and_nobody_has_to_take_it_so(self):
        (script,) = (p for p in self.first() if re.match(r"/assets/index-.*\.js", p))
        plain, small = self.get(script, "identity"), self.get(script)
        self.assertEqual((plain.headers.get("Content-Encoding"), small.headers["Content-Encoding"]), (None, "gzip"))
        self.assertEqual(gzip.decompress(small.data), plain.data)
        self.assertEqual(plain.data, (STATIC / script[1:]).read_bytes())
        for named in (script, next(p for p in self.first() if p.endswith(".css"))):
            smallest, whole = self.get(named, "gzip, br"), self.get(named, "identity")
            headers = smallest.headers
            self.assertEqual((headers["Content-Encoding"], headers["Vary"]), ("br", "Accept-Encoding"))
            self.assertEqual((brotli.decompress(smallest.data), smallest.mimetype), (whole.data, whole.mimetype))
            self.assertEqual(self.get(named, "gzip, br;q=0").headers["Content-Encoding"], "gzip")
