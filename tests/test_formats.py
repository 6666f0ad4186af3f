"""Open formats: what goes out comes back the same, read by each format's own library; hostile files are refused."""

import contextlib
import csv
import datetime as dt
import io
import json
import math
import tempfile
import unittest
import xml.etree.ElementTree as ET
from pathlib import Path

import geojson
import gpxpy
import jsonschema
import pandas
import pyogrio
import shapely
import vobject
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.model import Plan, Position, PullTest
from reamer.core.reading import read_plan
from reamer.core.second.check import tally_of
from reamer.core.section.shooting import as_shots
from reamer.demos import DEMOS
from reamer.formats.calendar import Written, calendar
from reamer.formats.flat import as_text, as_written
from reamer.formats.importing import look, told_by
from reamer.formats.outgoing import NAMES, outgoing, written
from reamer.formats.report import whole_words
from reamer.formats.sheets import NUMBER, number
from reamer.formats.tables import read, write
from reamer.formats.traces import read_trace
from reamer.formats.tracks import gpx, maps, read_gpx
from tests import law
from tests.builders import doubled, plan_of
from tests.command import reamer
from tests.core.test_log import trip
from tests.outside import Outside

GPX_READ = Outside("places, as GPX", "a library of tracks reads them back", "gpxpy")
MAP_READ = Outside("places, as GeoJSON", "a geospatial library reads them back", "pyogrio")
CALENDAR_READ = Outside(
    "times to turn round, as a calendar", "a calendar library keeps each plan once, its last revision", "vobject"
)
TABLE_READ = Outside("shots in a table, in three notations", "a library of tables writes them", "pandas")


POSITIONS = st.builds(
    lambda a, b, c: Position(latitude_deg=a / 1e6, longitude_deg=b / 1e6, elevation_m=None if c is None else c / 10),
    st.integers(-90_000_000, 90_000_000),
    st.integers(-180_000_000, 180_000_000),
    st.none() | st.integers(-4000, 89_000),
)
GPX = '<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1">'
NASTY = ("=1+1", "@cmd", "+1", "-x", "'already", '"quoted", with commas', "=HYPERLINK(0)", "<b>ñ</b>", "שלום", "a;b\tc")


def placed(plan, some, approach=()):
    drops = tuple(d.model_copy(update={"position": p}) for d, p in zip(plan.drops, some, strict=False))
    return plan.model_copy(update={"drops": drops + plan.drops[len(drops) :], "approach": tuple(approach)})


def bare(plan):
    return placed(plan, [None] * len(plan.drops))


class Places(unittest.TestCase):
    @given(st.lists(POSITIONS, min_size=1, max_size=9), st.lists(POSITIONS, max_size=30))
    def test_what_goes_out_comes_back(self, some, approach):
        plan = placed(DEMOS["canyon"](), some, approach)
        text = gpx(plan)
        back = look(bare(plan), "x.gpx", text.encode())
        self.assertEqual(back.plan, plan)
        self.assertEqual(look(plan, "x.gpx", text.encode()).changes, ())
        made = gpxpy.parse(text)
        got = [(w.longitude, w.latitude) for w in made.waypoints]
        GPX_READ.same(self, got, [(p.longitude_deg, p.latitude_deg) for p in some])
        self.assertEqual(made.version, "1.1")
        root = ET.fromstring(text)
        self.assertEqual(root.tag, "{http://www.topografix.com/GPX/1/1}gpx")
        there = geojson.loads(maps(plan))
        self.assertTrue(there.is_valid, there.errors())
        points = [f for f in there.features if f.geometry.type == "Point"]
        for f, p in zip(points, some, strict=True):
            self.assertEqual(tuple(f.geometry.coordinates[:2]), (p.longitude_deg, p.latitude_deg))

    @given(st.lists(POSITIONS, min_size=1, max_size=9), st.lists(POSITIONS, min_size=2, max_size=9))
    @law(20)
    def test_a_geospatial_library_finds_the_places_where_they_are(self, some, approach):
        """By GDAL, by way of pyogrio: waypoints and track of the GPX file, and the GeoJSON, whose points have heights,
        all of them or none."""
        plan = placed(DEMOS["canyon"](), some, approach)

        def there(text, layer=None):
            meta, _, shapes, columns = pyogrio.raw.read(text.encode(), layer=layer)
            return shapely.from_wkb(shapes), dict(zip(meta["fields"], columns, strict=True))

        def at(p):
            return p.longitude_deg, p.latitude_deg

        for layer, places in (("waypoints", some), ("track_points", approach)):
            points, told = there(gpx(plan), layer)
            self.assertEqual([(round(p.x, 8), round(p.y, 8)) for p in points], [at(p) for p in places])
            high = [None if math.isnan(e) else e for e in told["ele"]]
            self.assertEqual(high, [p.elevation_m for p in places])
        *points, line = there(maps(plan))[0]
        MAP_READ.same(self, [(p.x, p.y) for p in points], [at(p) for p in some])
        self.assertEqual([(x, y) for x, y, *_ in line.coords], [at(p) for p in approach])
        high = all(p.elevation_m is not None for p in (*some, *approach))
        self.assertEqual({p.has_z for p in (*points, line)}, {high})

    def test_what_is_not_taken_is_said(self):
        plan = DEMOS["gully"]()
        name = plan.drops[0].name
        place = f'<wpt lat="1" lon="2">{{}}<name>{name}</name></wpt>'
        track = '<trk><trkseg><trkpt lat="1" lon="2"/><trkpt lat="1" lon="3"/></trkseg></trk>'
        for body, told, taken in (
            (place.format("") * 2, f"more than one place of it is called {name}", None),
            (place.format("<ele>9001</ele>"), "1 elevations outside", Position(latitude_deg=1, longitude_deg=2)),
            (place.format("") + track + '<rte><rtept lat="5" lon="5"/></rte>', "its routes, 1 points", ...),
            (place.format("") + "<extensions><x>1</x></extensions>", "its extensions", ...),
        ):
            with self.subTest(told):
                for data in (
                    f"{GPX}{body}</gpx>".encode(),
                    f'<?xml version="1.0" encoding="UTF-16"?>{GPX}{body}</gpx>',
                ):
                    made = look(plan, "p.gpx", data if isinstance(data, bytes) else data.encode("utf-16"))
                    self.assertTrue(any(told in x for x in made.left), made.left)
                    if taken is not ...:
                        self.assertEqual(made.plan.drops[0].position, taken)

    def test_hostile_and_broken_files_are_refused_with_a_sentence(self):
        bomb = '<!DOCTYPE g [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>'
        outside = '<!DOCTYPE g [<!ENTITY x SYSTEM "file:///etc/passwd">]>'
        body = f'{GPX}<wpt lat="1" lon="2"><name>&b;</name></wpt></gpx>'
        good = gpx(placed(DEMOS["gully"](), [Position(latitude_deg=1, longitude_deg=2)]))
        for text, words in (
            (bomb + body, "entities"),
            (outside + body.replace("&b;", "&x;"), "entities"),
            (good[: len(good) // 2], "not GPX"),
            ("", "not GPX"),
            ("<html></html>", "not GPX"),
            (good.replace('lat="1"', 'lat="91"').replace('lat="1.0"', 'lat="91"'), "nowhere"),
            (good.replace('lat="1"', 'lat="x"').replace('lat="1.0"', 'lat="x"'), "not GPX"),
        ):
            for encoding in ("utf-8", "utf-16"):
                with self.assertRaises(PlanError, msg=(words, encoding)) as caught:
                    read_gpx(text.encode(encoding))
                self.assertNotIn("root:", caught.exception.message)
            with self.assertRaisesRegex(PlanError, words):
                read_gpx(text.encode())

    def test_a_long_track_is_thinned_and_says_so_and_strange_places_are_told(self):
        rows = "".join(f'<trkpt lat="{46 + n / 1e5:.6f}" lon="{7 + (n % 7) / 1e5:.6f}"/>' for n in range(5000))
        place = '<wpt lat="1" lon="2"><name>Nobody</name></wpt>'
        text = f"{GPX}{place}<trk><trkseg>{rows}</trkseg></trk></gpx>"
        made = look(DEMOS["gully"](), "t.GPX", text.encode())
        self.assertLessEqual(len(made.plan.approach), 1000)
        self.assertTrue(any("of 5,000 points" in x for x in made.left), made.left)
        self.assertTrue(any("no station is called Nobody" in x for x in made.left))


FORMS = ("{}", "{:.3f}", "{:e}", "{:+.2f}", "{:.0f}.5", ".{:.0f}")


class Tables(unittest.TestCase):
    def named(self, plan):
        """The demonstration with names that a sheet would take for something else."""
        data = json.loads(plan.model_dump_json())
        for things in (data["drops"], data["party"], *(data["shed"][k] for k in ("ropes", "slings", "rings"))):
            for thing, name in zip(things, NASTY, strict=False):
                thing["name"] = name.replace("\t", " ")
        data["shed"]["ropes"][0]["damage"] = [
            {"at_m": {"kind": "unknown", "why": "=2+2"}, "takes_m": {"kind": "unknown", "why": "not measured"}}
        ]
        data["shed"]["pull_tests"] = [{"id": "t1", "name": "=loop", "samples_kn": [8.2, 8.4, 7.9], "on": "2026-01-02"}]
        return read_plan(data)

    def test_records_beside_a_plan_are_told_not_to_be_taken(self):
        plan = DEMOS["canyon"]()
        gear = {"records": [{"list": "ropes", "names": ["Blue 60"]}]}
        text = json.dumps({**plan.model_dump(mode="json"), "gear": gear}).encode()
        made = look(plan, "p.json", text)
        self.assertEqual(made.changes, ())
        self.assertIn("what its things have been through is not taken", made.left[0])

    def test_every_table_comes_back_the_same_in_both_systems(self):
        for demo in DEMOS.values():
            plan = self.named(demo())
            for system in ("metric", "us"):
                for kind in ("shots", "shed", "party", "pull tests"):
                    text = write(kind, plan, (), system)
                    if len(text.splitlines()) < 2:
                        continue
                    # Into itself nothing changes; into an empty plan everything comes.
                    made = look(plan, "t.csv", text.encode())
                    self.assertEqual((made.changes, made.left, made.plan), ((), (), plan), (kind, system))
                    into = look(Plan(format=1, title="Empty"), "t.csv", text.encode()).plan
                    if kind == "party":
                        self.assertEqual(into.party, plan.party)
                    if kind == "shots":
                        for was, now in zip(plan.drops, into.drops, strict=True):
                            self.assertTrue(told_by(was.section, now.section), was.name)
                    if kind == "shed":
                        self.assertEqual(into.shed.ropes, plan.shed.ropes)
                    for cells in csv.reader(io.StringIO(text.removeprefix("\ufeff"))):
                        for cell in cells:
                            if cell[:1] in ("=", "@", "+", "-"):
                                float(cell)
        some = [trip(pull="hard", words="=1+1", left="@x"), trip(on=dt.date(2026, 5, 9))]
        for system in ("metric", "us"):
            text = write("log", DEMOS["canyon"](), some, system)
            # What came along is not in the table; where it is not said it is what the plan has.
        told = [t.model_copy(update={"used": None}) for t in some]
        self.assertEqual(list(look(DEMOS["canyon"](), "log.csv", text.encode()).trips), told)

    @given(st.text(max_size=20))
    def test_no_text_is_a_formula_and_every_text_comes_back(self, text):
        self.assertEqual(as_written(as_text(text)), text)
        self.assertFalse(as_text(text).startswith(("=", "+", "-", "@", "\t", "\r")))

    def test_a_table_made_by_hand(self):
        plan = DEMOS["gully"]()
        text = "drop;slope (ft);inclination (°);method;colour\nNew Step;41,5;-80;tape;red\nNew Step;10 m;-90;eye;\n"
        with self.assertRaisesRegex(PlanError, r"row 3/slope: it is in 'm', and its column in 'ft'"):
            look(plan, "s.csv", text.encode())
        made = look(plan, "s.csv", text.replace("10 m", "32,8").encode("utf-16"))
        shots = made.plan.drops[-1].section.shots
        self.assertAlmostEqual(shots[0].slope_m.value, 41.5 * 0.3048, 9)
        self.assertEqual((shots[1].slope_m.method, made.plan.drops[-1].name), ("eye", "New Step"))
        self.assertEqual(made.left, ("columns that mean nothing here: colour",))
        self.assertEqual(made.changes, ("New Step comes in, 2 shots",))

    def test_what_has_no_column_stays_as_it_was(self):
        plan = self.named(DEMOS["canyon"]())
        rope = plan.shed.ropes[0]
        heads = "table,name,kind,nominal (m),nominal method,measured (m),measured method,diameter (mm),elongation (%)"
        heads += ",middle off (m),middle off method,strength low (kN),strength high (kN)"
        line = f"ropes,{as_text(rope.name)},low-stretch,60,given,51.5,tape,9,3,0.1,tape,19,19"
        made = look(plan, "s.csv", f"{heads}\n{line}\n".encode())
        new = made.plan.shed.ropes[0]
        self.assertEqual(
            (new.measured_m.value, new.damage, new.id, new.colour), (51.5, rope.damage, rope.id, rope.colour)
        )
        self.assertEqual(len(made.plan.shed.ropes), len(plan.shed.ropes))
        self.assertTrue(any("measured length" in c or "51.5" in c for c in made.changes), made.changes)
        # A measured length that is short is not forgotten because a cell is empty; with a reason it is.
        short = line.replace("51.5,tape", ",")
        self.assertEqual(look(made.plan, "s.csv", f"{heads}\n{short}\n".encode()).changes, ())
        why = look(made.plan, "s.csv", f"{heads},measured why\n{short},lost the note\n".encode())
        self.assertEqual(why.plan.shed.ropes[0].measured_m.kind, "unknown")

    def test_broken_tables_are_refused_by_row_and_column(self):
        plan, head = DEMOS["gully"](), "drop,slope (m),inclination (°),method\n"
        for text, words in (
            (b"", "names no columns"),
            (b"\x00\x01", "not text|columns"),
            (head.encode(), "no rows"),
            ((head + "A,5,-80,tape").encode() + b"\xff", "not UTF-8"),
            ((head + "A,five,-80,tape").encode(), "row 2/slope: 'five' is not a number"),
            # Digits without end are no number, and are read no longer than others.
            ((head + f"A,{'1' * 120_000}x,-80,tape").encode(), "row 2/slope: '1+' is not a number"),
            ((head.replace("slope (m)", "slope" + " " * 100_000 + "(m)") + "A,5,-80,tape").encode(), "longer than 200"),
            ((head + "A,5,-80,guess").encode(), "row 2/slope"),
            ((head + "A,5,-80").encode(), "row 2/slope: a slope distance needs the method"),
            ((head + ",5,-80,tape").encode(), "row 2/drop"),
            ((head + 'A,"5,-80,tape').encode(), "not CSV"),
            ((head + "A,5,-80,tape,6,7").encode(), "row 2: it has 6 cells"),
            ((head + "A,9e9,-80,tape").encode(), "row 2/slope"),
            (b"drop,slope,inclination\nA,5,-80\n", "its column has no unit|no unit"),
            (b"drop,slope (m),slope (m),inclination\nA,5,5,-80\n", "two columns"),
            (b"drop,slope (m),slope (ft),inclination\nA,5,16,-80\n", "which"),
            (b"drop,slope (furlong),inclination\nA,5,-80\n", "no unit of it"),
            (b"a,b\n1,2\n", "which table"),
            (b"table,name\nnonsense,x\n", "which table"),
            (("role,name,mass (kg),mass method\n" + "guide,A,80,given\n" * 2).encode(), "two rows"),
            ((head + "A,5,-80,tape\n" * 101).encode(), "more than 100 shots"),
            (b"a" * 20_000_001, "at most"),
        ):
            with self.assertRaisesRegex(PlanError, words):
                look(plan, "t.csv", text)
        with self.assertRaisesRegex(PlanError, "none of"):
            look(plan, "t.exe", b"x")

    @given(st.floats(-1e6, 1e6).filter(bool), st.sampled_from(FORMS))
    def test_a_number_is_read_as_it_is_written(self, value, form):
        """Against Python's own reading: with a point or a comma, a sign, an exponent; where the file does not say which
        of the two it is, it is that or refused."""
        text = form.format(abs(value) if form.startswith(".") else value)
        for sign, shown in ((".", text), (",", text.translate(str.maketrans(".,", ",.")))):
            found = NUMBER.fullmatch(shown)
            self.assertIsNotNone(found, shown)
            self.assertEqual(number(found[1], sign), float(text.replace(",", "")), shown)
            with contextlib.suppress(ValueError):
                self.assertEqual(number(found[1], ""), float(text.replace(",", "")), shown)

    def test_what_pandas_writes_in_three_notations_comes_in(self):
        """A point and commas between cells, a comma and semicolons, and a comma with points between thousands and tabs;
        with its own count of rows, in the system of units of each."""
        rows = [("One", 4.12, -80.0, True), ("One", 1.5, -3.25, False), ("Two", 12.125, -88.0, True)]
        heads = ["drop", "slope (m)", "inclination (°)", "method"]
        frame = pandas.DataFrame([(d, s, i, "tape") for d, s, i, _ in rows], columns=heads)
        for sep, decimal in ((",", "."), (";", ","), ("\t", ",")):
            got = read(frame.to_csv(sep=sep, decimal=decimal).encode())
            self.assertEqual(got.unknown, ())
            shots = [(d, s.slope_m.value, s.incl_deg.value) for d, some in got.shots.items() for s in some.shots]
            TABLE_READ.same(self, shots, [r[:3] for r in rows])
        with_sep = "sep=;\n" + frame.to_csv(sep=";", decimal=",", index=False)
        self.assertEqual(read(with_sep.encode()).shots, got.shots)

    def test_what_the_numbers_of_a_file_do_not_settle_is_refused(self):
        head = "drop{0}slope (ft){0}inclination (°){0}on{0}method\n"
        for sep, cells, want in (
            (",", 'One,"1,250",-80,,tape', 1250 * 0.3048),
            (",", "One,1.250,-80,,tape", 1.25 * 0.3048),
            (";", "One;1,250;-80;;tape", "may be 1.25 or 1250"),
            (";", "One;1.250;-80;;tape", "may be 1.25 or 1250"),
            (";", "One;1,250;-80,5;;tape", 1.25 * 0.3048),
            (";", "One;1.250;-80,5;;tape", 1250 * 0.3048),
            (";", "One;4.12;-80,5;;tape", "not a number where '.' stands"),
            (";", "One;1,250;-80;12.05.2026;tape", "may be 1.25 or 1250"),
            (",", 'One,"4,12",-80,,tape', "not a number where '.' stands"),
            ("\t", "One\t0,625\t-80\t1.5.2026\ttape", 0.625 * 0.3048),
        ):
            with self.subTest(cells):
                text = (head.format(sep) + cells + "\n").encode()
                if isinstance(want, str):
                    with self.assertRaisesRegex(PlanError, want):
                        read(text)
                    if want.startswith("may be"):
                        # Asked, and answered, it is what was said.
                        comma, point = (read(text, s).shots["One"].shots[0].slope_m.value for s in ",.")
                        self.assertAlmostEqual(max(comma, point), 1000 * min(comma, point))
                        self.assertEqual(comma > point, "1.250" in cells)
                else:
                    (shot,) = read(text).shots["One"].shots
                    self.assertAlmostEqual(shot.slope_m.value, want)
                    self.assertIn(str(shot.slope_m.on), ("None", "2026-05-01"))
        # What a name looks like says nothing of the figures.
        remark = b"drop;slope (ft);inclination (\xc2\xb0);method\n8,5;1.250;-80;tape\n"
        with self.assertRaisesRegex(PlanError, "may be"):
            read(remark)
        self.assertEqual(read_trace(b"time (s);force (kN)\n0;0,1\n0,5;9,25\n").points[-1], (0.5, 9.25))
        with self.assertRaisesRegex(PlanError, "may be"):
            read_trace(b"time (s);force (kN)\n0;0\n1;9,250\n")

    def test_two_drops_of_one_name_are_told_apart_by_nobody(self):
        data = json.loads(DEMOS["gully"]().model_dump_json())
        data["drops"][1]["name"] = data["drops"][0]["name"]
        plan, name = read_plan(data), data["drops"][0]["name"]
        with self.assertRaisesRegex(PlanError, "more than one drop is called"):
            look(plan, "t.csv", f"drop,slope (m),inclination (°),method\n{name},5,-80,tape\n".encode())
        made = look(plan, "t.gpx", gpx(placed(plan, [Position(latitude_deg=1, longitude_deg=2)])).encode())
        self.assertEqual(made.plan.drops, plan.drops)
        self.assertTrue(any("more than one station" in x for x in made.left))

    def test_ten_thousand_shots(self):
        rows = "".join(f"D{n // 100},{5 + n % 7},{-80 - n % 9},tape\n" for n in range(10_000))
        made = look(Plan(format=1, title="Big"), "t.csv", ("drop,slope (m),inclination (°),method\n" + rows).encode())
        self.assertEqual((len(made.plan.drops), len(made.plan.drops[-1].section.shots)), (100, 100))

    def test_pull_tests_by_sample(self):
        text = "name,sample (lbf),on\nloop,1800,2026-01-02\nloop,1850,2026-01-02\nstrap,4000,\n"
        got = read(text.encode()).tests
        self.assertEqual([(t.name, len(t.samples_kn)) for t in got], [("loop", 2), ("strap", 1)])
        self.assertAlmostEqual(got[0].samples_kn[0], 1800 * 4.4482216152605 / 1000, 9)
        self.assertIsInstance(got[0], PullTest)


class Times(unittest.TestCase):
    def test_the_calendar_says_when_to_turn_round(self):
        plan = DEMOS["canyon"]()
        a = assess(plan, fixes=False)
        tally = tally_of(plan, a, None, None, ())
        made = Calendar.from_ical(calendar(plan, a, tally, dt.datetime(2026, 5, 1, tzinfo=dt.UTC)))
        events = {str(e["summary"]): e for e in made.walk("VEVENT")}
        turns = [s for s in a.descent.times.stations if s.turn_round_at]
        self.assertTrue(turns)
        for s in turns:
            event = events[f"Turn round at {s.number} · {plan.drops[s.number - 1].name}"]
            self.assertEqual(f"{event['dtstart'].dt:%H:%M}", s.turn_round_at[:5])
            self.assertEqual(event["dtstart"].dt.date(), plan.on)
            # For whom the time holds, and how the plan stood: what was not worked out is not 0.
            self.assertIn(f"party of {len(plan.party)}, the last person included", event["description"])
            self.assertIn(whole_words(tally), event["description"])
            self.assertIn("not worked out", event["description"])
            self.assertIn("By the clock of Europe/Zurich.", event["description"])
        with self.assertRaisesRegex(PlanError, "no date"):
            calendar(plan.model_copy(update={"on": None}), a, tally, dt.datetime.now(dt.UTC))

    def ics(self, plan, *of):
        a = assess(plan, fixes=False)
        return calendar(plan, a, tally_of(plan, a, None, None, ()), dt.datetime(2026, 5, 1, tzinfo=dt.UTC), *of)

    def test_a_calendar_has_each_plan_once_and_its_last_revision(self):
        """As another calendar library keeps them: by their UID, the highest SEQUENCE (RFC 5545, from memory)."""
        one = DEMOS["canyon"]()
        later = one.model_copy(update={"start": "08:15"})
        kept = {}
        for plan, of in (
            (one, Written("a", 1)),
            (one, Written("b", 1)),
            (later, Written("a", 3)),
            (one, Written("a", 2)),
        ):
            for event in vobject.readOne(self.ics(plan, of).decode()).vevent_list:
                had = kept.get(event.uid.value)
                if had is None or int(event.sequence.value) > int(had.sequence.value):
                    kept[event.uid.value] = event
        each = assess(one, fixes=False).descent.times
        CALENDAR_READ.same(self, len(kept), 2 * (1 + sum(s.turn_round is not None for s in each.stations)))
        self.assertEqual({e.sequence.value for k, e in kept.items() if "-a@" in k}, {"3"})

    def test_what_falls_after_midnight_is_on_the_day_after_by_the_zones_own_rules(self):
        spot = {"latitude_deg": 65.6, "longitude_deg": 12.5, "zone": "Europe/Oslo"}
        data = plan_of(doubled(), spot=spot, on="2027-06-06", start="18:00")
        made = vobject.readOne(self.ics(read_plan(data), Written("a", 1)).decode())
        self.assertEqual([z.tzid.value for z in made.vtimezone_list], ["Europe/Oslo"])
        (light,) = (e for e in made.vevent_list if "sunset" in e.summary.value)
        # The sun sets at 00:04 the day after by the clock there, two hours ahead of UTC in summer.
        self.assertEqual(light.dtstart.value.astimezone(dt.UTC), dt.datetime(2027, 6, 6, 22, 4, tzinfo=dt.UTC))


class Out(unittest.TestCase):
    def test_what_is_left_out_is_said_with_how_many_and_nothing_is_no_file(self):
        plan = DEMOS["canyon"]()
        a = assess(plan, fixes=False)
        told = {o.name: o for o in outgoing(plan, a, ())}
        self.assertEqual(tuple(told), NAMES)
        self.assertEqual(
            [r["drop"] for r in csv.DictReader(io.StringIO(write("shots", plan)[1:]))],
            [
                d.name
                for d in plan.drops
                for _ in (as_shots(d.section) if d.section.kind == "quick" else d.section).shots
            ],
        )
        for name in ("places.gpx", "places.geojson", "log.csv"):
            with self.assertRaisesRegex(PlanError, "nothing to write"):
                written(name, plan, a, ())
        some = placed(plan, [Position(latitude_deg=46, longitude_deg=7, elevation_m=900)] * 2)
        some = some.model_copy(update={"approach": (Position(latitude_deg=46, longitude_deg=7),)})
        self.assertEqual(written("places.gpx", some, a, ()), ("7 of 9 stations have no position, and are left out",))
        self.assertIn("1 points have no height", written("places.geojson", some, a, ())[1])
        empty = Plan(format=1, title="Nothing yet")
        self.assertTrue(all(o.why for o in outgoing(empty, assess(empty), ())))


class CommandLine(unittest.TestCase):
    def test_out_and_in_and_the_schema_names_itself(self):
        with tempfile.TemporaryDirectory() as folder:
            at = Path(folder)
            plan = placed(DEMOS["canyon"](), [Position(latitude_deg=46.5, longitude_deg=7.5)])
            (at / "p.json").write_text(plan.model_dump_json())
            for what, name in (("places", "p.gpx"), ("shed", "s.csv"), ("times", "t.ics"), ("places", "p.geojson")):
                got = reamer("export", str(at / "p.json"), "--what", what, "--out", str(at / name))
                self.assertEqual(got.returncode, 0, got.stderr)
            (at / "q.json").write_text(bare(plan).model_dump_json())
            got = reamer("import", str(at / "p.gpx"), "--into", str(at / "q.json"), "--out", str(at / "r.json"))
            self.assertIn("lies at 46.5, 7.5", got.stdout)
            self.assertEqual(read_plan(json.loads((at / "r.json").read_text())), plan)
            for args in (
                ("export", str(at / "p.json"), "--what", "places", "--out", str(at / "p.csv")),
                ("import", str(at / "none.csv"), "--into", str(at / "p.json")),
                ("import", str(at / "p.json"), "--into", str(at / "s.csv")),
            ):
                bad = reamer(*args)
                self.assertEqual((bad.returncode, len(bad.stderr.splitlines())), (2, 1), bad.stderr)
            schema = json.loads(reamer("schema").stdout)
            self.assertEqual(schema["$id"], "urn:reamer:plan:1")
            jsonschema.validate(json.loads((at / "p.json").read_text()), schema)


if __name__ == "__main__":
    unittest.main()
