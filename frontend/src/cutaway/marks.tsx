// What the drawing says in words, and where.
import { type ReactNode, useMemo } from "react";
import { spoken } from "../say";
import type { Drop, DropAssessment, Point } from "../state/model";
import { Num } from "../ui/Num";
import { corner } from "./Insets";
import { onTheWay, type PulledView } from "./Strands";
import { cut } from "./shape";
import { sx, sy, type View } from "./view";

interface Label {
  id: string;
  at: Point;
  title: ReactNode;
  sub?: ReactNode;
  tone?: string;
  /** Goes without words first where there is no room for all. */
  minor?: boolean;
}

/** What labels are made of: a station's answer in a view, with what is pulled where something is. */
interface Seen {
  a: DropAssessment;
  v: View;
  us: boolean;
  pulled: PulledView | null;
  deviations: NonNullable<Drop["station"]["deviations"]>;
  /** How far the landing lies off to the side [m]. */
  aside: number;
}

export function useLabels(a: DropAssessment, drop: Drop, v: View, us: boolean, pulled: PulledView | null): Label[] {
  const deviations = drop.station.deviations ?? NO_DEVIATIONS;
  const aside = drop.landing.aside_m?.kind === "known" ? drop.landing.aside_m.value : 0;
  return useMemo(() => {
    const seen = { a, v, us, pulled, deviations, aside };
    if (pulled) return [...ofRing(seen), ...ofContacts(seen), ...ofPull(seen, pulled)];
    const hanging = [...ofEnds(seen), ...ofLies(seen), ...ofReserve(seen), ...ofDeviations(seen)];
    return [...ofRing(seen), ...ofContacts(seen), ...hanging, ...ofLanding(seen)];
  }, [a, v, us, pulled, deviations, aside]);
}

const NO_DEVIATIONS: Seen["deviations"] = [];
const at = (v: View, x: number, z: number): Point => [sx(v, x), sy(v, z)];
const force = (us: boolean, n: number) =>
  spoken({ value: n, quantity: "pull", toward: "up", working: "" }, us ? "us" : "metric");

/** Tension just below a corner and just above it, on either strand, while it is pulled. */
function strain({ pulled, us }: Seen, x: number, z: number): string | null {
  if (!pulled) return null;
  const [i, j] = [corner(pulled.upLine, x, z), corner(pulled.downLine, x, z)];
  const parts = [];
  if (i > 0 && pulled.here.up_n[2 * i]! > 0)
    parts.push(`up ${force(us, pulled.here.up_n[2 * i]!)} → ${force(us, pulled.here.up_n[2 * i - 1]!)}`);
  if (j > 0) parts.push(`down ${force(us, pulled.here.down_n[2 * j - 1]!)} → ${force(us, pulled.here.down_n[2 * j]!)}`);
  return parts.join("; ");
}

function ofRing({ a, v, us, pulled }: Seen): Label[] {
  const g = a.geometry;
  const made: Label[] = [];
  if (g.ring) {
    made.push({
      id: "ring",
      at: at(v, g.ring[0], g.ring[1]),
      title: a.parts.some((p) => p.key === "ring") || a.parts.length === 0 ? "ring" : "rope",
      sub: pulled
        ? `${force(us, pulled.here.up_n[0] ?? 0)} → ${force(us, pulled.here.down_n[0] ?? 0)}`
        : g.post_name
          ? `on ${g.post_name}`
          : undefined,
    });
  }
  return made;
}

function ofContacts(seen: Seen): Label[] {
  const { a, v, pulled } = seen;
  const g = a.geometry;
  const made: Label[] = [];
  g.contacts.forEach((c) => {
    if ((c.turn.value * 180) / Math.PI < 2) return;
    made.push({
      id: `contact-${c.index}`,
      minor: c.kind === "contact" && c.edge !== "unknown",
      at: at(v, c.x_m, c.z_m),
      title: (
        <>
          {c.kind}
          {c.edge !== "rounded" && c.edge !== "unknown" ? `, ${c.edge}` : ""} · turns <Num n={c.turn} />
        </>
      ),
      ...(pulled
        ? { sub: strain(seen, c.x_m, c.z_m) ?? undefined }
        : c.edge === "unknown"
          ? { sub: "sharpness not checked", tone: "sev-Not-checked" }
          : {}),
    });
  });
  return made;
}

/** While it is pulled: what it takes at each corner that stays in, and at the hand. */
function ofPull(seen: Seen, pulled: PulledView): Label[] {
  const { a, v, us, deviations } = seen;
  const g = a.geometry;
  const made: Label[] = [];
  for (const d of deviations) {
    const mark = d.left_in && d.below_m.kind === "known" ? cut(g.taut as Point[], d.below_m.value).at(-1) : undefined;
    if (mark)
      made.push({
        id: `dev-${d.id}`,
        at: at(v, mark[0], mark[1]),
        title: d.name,
        sub: strain(seen, mark[0], mark[1]) ?? undefined,
      });
  }
  const hand = pulled.downLine[pulled.downLine.length - 1];
  if (hand)
    made.push({
      id: "hand",
      at: at(v, hand[0], hand[1]),
      title: <>{force(us, pulled.here.high_n)} at the hand</>,
      sub: <>at the least friction {force(us, pulled.here.low_n)}</>,
    });
  return made;
}

/** Where each strand ends, and what it is short of. */
function ofEnds({ a, v }: Seen): Label[] {
  const made: Label[] = [];
  const ends = new Map<string, DropAssessment["reach"]>();
  for (const r of a.reach) {
    if (!r.free) continue;
    const where = `${r.name}|${r.free.above.value.toFixed(2)}|${r.spare?.value.toFixed(2) ?? ""}`;
    ends.set(where, [...(ends.get(where) ?? []), r]);
  }
  for (const group of ends.values()) {
    const r = group[0]!;
    const above = r.free!.above;
    const name = group.length > 1 ? `${r.name}, both ends` : `${r.name} ${r.end.toUpperCase()}, ${r.role}`;
    const short = r.spare !== null && r.spare.value < 0;
    const ridden =
      above.value <= 0 || r.role === "pull" ? null : r.ridden ? (
        <>
          , <Num n={r.ridden.above} /> with a rider
        </>
      ) : (
        <>, with a rider not checked</>
      );
    made.push({
      id: `end-${r.key}`,
      at: at(v, r.free!.x_m, r.free!.z_m),
      tone: short ? "sev-Shortfall" : "",
      title:
        short && r.spare ? (
          <>
            {name} <Num n={{ ...r.spare, value: -r.spare.value, toward: "up" }} /> short
          </>
        ) : (
          name
        ),
      sub:
        above.value > 0 ? (
          <>
            {short ? "drawn" : "hangs"} <Num n={above} /> up{ridden}
          </>
        ) : (
          <>
            <Num n={{ ...above, value: -above.value, toward: "down" }} /> on the landing{short && " as drawn"}
          </>
        ),
    });
  }
  return made;
}

function ofLies({ a, v }: Seen): Label[] {
  const g = a.geometry;
  const made: Label[] = [];
  for (const r of a.reach) {
    if (r.role === "reserve") continue;
    for (const { x, here } of onTheWay(r, g.taut as Point[]))
      made.push({
        id: `lies-${r.key}-${x.below.value}`,
        at: at(v, here[0], here[1]),
        title: (
          <>
            {x.what === "join" ? "join" : "knot"}, <Num n={x.below} /> down
          </>
        ),
        sub: x.what === "join" ? `${x.rope} and ${x.other}` : `isolates damage in ${x.rope}`,
      });
  }
  return made;
}

/** What stays in the bag to lower with, and from where a lower reaches. */
function ofReserve({ a, v }: Seen): Label[] {
  const g = a.geometry;
  const made: Label[] = [];
  for (const r of a.reach) {
    if (r.role !== "reserve" || !g.ring || !r.low) continue;
    made.push({
      id: "reserve",
      at: at(v, g.ring[0], g.ring[1]),
      title: (
        <>
          reserve <Num n={{ ...r.low, value: Math.max(0, r.low.value) }} /> in the bag
        </>
      ),
      sub: r.spare && r.spare.value < 0 && r.highest ? undefined : "lowers from anywhere",
      tone: r.spare && r.spare.value < 0 ? "sev-Shortfall" : "",
    });
    const mark = r.highest && r.highest.value > 0.05 ? cut(g.taut as Point[], r.highest.value).at(-1) : undefined;
    if (mark && r.highest)
      made.push({
        id: "highest",
        at: at(v, mark[0], mark[1]),
        title: "a lower reaches from here down",
        sub: (
          <>
            <Num n={r.highest} /> below the ring
          </>
        ),
      });
  }
  return made;
}

function ofDeviations({ a, v, deviations }: Seen): Label[] {
  const g = a.geometry;
  const made: Label[] = [];
  for (const d of deviations) {
    const mark = d.below_m.kind === "known" ? cut(g.taut as Point[], d.below_m.value).at(-1) : undefined;
    if (mark)
      made.push({
        id: `dev-${d.id}`,
        at: at(v, mark[0], mark[1]),
        title: d.name,
        sub: d.left_in ? "stays in, pulled through" : "taken out before the pull",
      });
  }
  return made;
}

/** Where the landing lies otherwise than straight below, or may. */
function ofLanding({ a, v, us, aside }: Seen): Label[] {
  const g = a.geometry;
  const made: Label[] = [];
  const foot_ = g.terrain[g.terrain.length - 1];
  if (aside > 0 && foot_)
    made.push({
      id: "aside",
      at: at(v, foot_.x_m, foot_.z_m),
      title: (
        <>
          landing <Num n={{ value: aside, quantity: "length", toward: "near", working: "" }} /> off to the side
        </>
      ),
    });
  if (g.recess) {
    const lip = g.taut[g.taut.length - 1];
    const foot = g.terrain[g.terrain.length - 1];
    if (lip && foot)
      made.push({
        id: "recess",
        at: at(v, (lip[0] + foot.x_m) / 2, lip[1]),
        title: (
          <>
            landing <Num n={g.recess} /> back under
          </>
        ),
      });
  }
  const high = g.high[g.high.length - 1];
  const low = g.terrain[g.terrain.length - 1];
  if (high && low && low.z_m - high[1] > 0.3) {
    const more = { value: low.z_m - high[1], quantity: "length", toward: "up", working: "" } as const;
    const deeper = spoken(more, us ? "us" : "metric");
    made.push({
      id: "upper",
      at: at(v, high[0] + 30 / v.scale, high[1]),
      title: <span className="font-normal">landing, at the survey's limit</span>,
      sub: <>up to {deeper} deeper</>,
    });
  }
  return made;
}
