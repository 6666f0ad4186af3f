// The choices of a rope system, and what becomes of one when another kind is chosen.
import { known } from "../../../state/edits";
import type { Plan, System } from "../../../state/model";
import type { Path } from "../../../ui/fields";

export const ENDS = [
  { value: "a", label: "A" },
  { value: "b", label: "B" },
];

export const JOINS = [
  { value: "flat overhand, second behind", label: "flat overhand, a second behind" },
  { value: "flat overhand", label: "single flat overhand, long tails" },
  { value: "flat figure eight", label: "flat figure eight, advised against" },
  { value: "opposed overhand", label: "bend with opposite tails" },
];

export const MIDDLES = [
  { value: "mark", label: "its mark" },
  { value: "ends run together", label: "running both ends" },
];

/** What a system's own form is given: the system, and its place in the plan. */
export interface FormOf<K extends System["kind"]> {
  s: Extract<System, { kind: K }>;
  at: Path;
}

export const otherEnd = (e: "a" | "b"): "a" | "b" => (e === "a" ? "b" : "a");
export const UNKNOWN = (why: string) => ({ kind: "unknown" as const, why });

/** How the middle of a rope is found: by its mark where it has one that somebody checked. */
export function middleOf(plan: Plan, id: string): "mark" | "ends run together" {
  const rope = plan.shed.ropes?.find((r) => r.id === id);
  return rope?.middle_mark && rope.middle_off_m.kind === "known" ? "mark" : "ends run together";
}

export function systemOf(kind: string, plan: Plan, old: System): System {
  const ropes = (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord");
  const cords = (plan.shed.ropes ?? []).filter((r) => r.kind === "pull cord");
  const first = "rope" in old ? old.rope : old.kind === "joined" ? old.through : (ropes[0]?.id ?? "none");
  const knot = plan.policies?.join ?? "flat overhand, second behind";
  const b = [{ rope: first, end: "b" as const }];
  const thick = (id: string) => {
    const d = plan.shed.ropes?.find((r) => r.id === id)?.diameter_mm;
    return d?.kind === "known" ? d.value : 0;
  };
  switch (kind) {
    case "doubled":
      return {
        kind,
        rope: first,
        middle_by: middleOf(plan, first),
        pulled_end: "b",
        stoppers: [
          { rope: first, end: "a" },
          { rope: first, end: "b" },
        ],
      };
    case "joined": {
      const second = ropes.find((r) => r.id !== first)?.id ?? "none";
      const [through, other] = thick(second) > thick(first) ? [second, first] : [first, second];
      return {
        kind,
        through,
        through_end: "b",
        other,
        other_end: "b",
        pulled: "other",
        knot,
        tails_m: known(0.3, "given"),
        slips_kn: { kind: "unknown", why: "no pull test of the party's own" },
        stoppers: [
          { rope: through, end: "b" },
          { rope: other, end: "b" },
        ],
      };
    }
    case "blocked, same rope":
      return {
        kind,
        rope: first,
        ridden_end: "b",
        ride_m: { kind: "unknown", why: "not decided" },
        block: "figure eight",
        block_on: "pull",
        carabiner: true,
        block_holds: UNKNOWN("not tested"),
        tied_on: null,
        stoppers: b,
      };
    case "blocked, pull cord":
      return {
        kind,
        rope: first,
        ridden_end: "b",
        cord: cords[0]?.id ?? ropes.find((r) => r.id !== first)?.id ?? "none",
        cord_end: "b",
        knot,
        tails_m: known(0.3, "given"),
        slips_kn: UNKNOWN("no pull test of the party's own"),
        block: "figure eight",
        block_on: "pull",
        carabiner: true,
        block_holds: UNKNOWN("not tested"),
        tied_on: null,
        stoppers: b,
      };
    case "releasable":
      return {
        kind,
        rope: first,
        ridden_end: "b",
        ride_m: "ride_m" in old ? old.ride_m : UNKNOWN("not decided"),
        tie_off: "munter-mule-overhand",
        reserve_rope: null,
        reserve_end: "a",
        reserve_knot: knot,
        tied_on: null,
        stoppers: b,
      };
    case "lowered":
      return { kind, rope: first, end: "b", belayer: "above", far_end_closed: false, top: "no", stoppers: [] };
    case "elastic-release device":
      return {
        kind,
        rope: first,
        ridden_end: "b",
        device: plan.shed.devices?.find((d) => d.use === "elastic release")?.id ?? "none",
        stoppers: b,
      };
    case "alternating bights":
      return {
        kind,
        rope: first,
        ridden_end: "b",
        other: null,
        other_end: "b",
        middle_by: middleOf(plan, first),
        bights: UNKNOWN("not decided"),
        last_on: "pull",
        last_m: UNKNOWN("not decided"),
        clipped: true,
        block_holds: UNKNOWN("not tested"),
        stoppers: b,
      };
    default:
      return { kind: "none" };
  }
}
