// The rope system: which ropes, which end is ridden and pulled, the block, the stoppers.
import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { Swatch } from "../../cutaway/Swatch";
import { known, setAt } from "../../state/edits";
import type { Drop, DropAssessment, EndRef, Plan, Rope, System } from "../../state/model";
import { useSession } from "../../state/plan";
import { useWhich } from "../../state/which";
import { CapacityField, ChoiceField, Choose, FigureField, type Path, SurveyField } from "../../ui/fields";
import { Aids } from "./Aids";

const KINDS = [
  { value: "none", label: "not chosen yet" },
  { value: "doubled", label: "doubled rope" },
  { value: "joined", label: "two ropes joined" },
  { value: "blocked, same rope", label: "single strand, block on the same rope" },
  { value: "blocked, pull cord", label: "single strand with pull cord" },
  { value: "releasable", label: "releasable single strand" },
  { value: "lowered", label: "lowered by a belayer" },
  { value: "elastic-release device", label: "elastic-release device" },
  { value: "alternating bights", label: "alternating bights" },
];
const BLOCKS = ["figure eight", "overhand", "butterfly", "clove hitch", "stone hitch"];
const JOINS = [
  { value: "flat overhand, second behind", label: "flat overhand, a second behind" },
  { value: "flat overhand", label: "single flat overhand, long tails" },
  { value: "flat figure eight", label: "flat figure eight, advised against" },
  { value: "opposed overhand", label: "bend with opposite tails" },
];
const LIES = { "side by side": ["left", "right"], "one behind": ["against the rock", "outside"], unknown: [] } as const;
const UNKNOWN = (why: string) => ({ kind: "unknown" as const, why });
const ENDS = [
  { value: "a", label: "A" },
  { value: "b", label: "B" },
];

function systemOf(kind: string, plan: Plan, old: System): System {
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
        middle_by: "mark",
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
      return { kind, rope: first, end: "b", belayer: "above", far_end_closed: false, stoppers: [] };
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
        middle_by: "mark",
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

function RopeChoice({
  label,
  path,
  value,
  only,
  system,
  systemAt,
}: {
  label: string;
  path: Path;
  value: string;
  only?: "rope" | "cord";
  system: System;
  systemAt: Path;
}) {
  const { plan, edit } = useSession();
  const ropes = (plan.shed.ropes ?? []).filter((r: Rope) => !only || (r.kind === "pull cord") === (only === "cord"));
  // Stoppers go with the place of the rope they were tied in.
  const change = (id: string) => {
    const stoppers =
      system.kind === "none" ? [] : (system.stoppers ?? []).map((s) => (s.rope === value ? { ...s, rope: id } : s));
    edit(setAt(path, id), setAt([...systemAt, "stoppers"], stoppers));
  };
  return (
    <span className="flex min-w-0 items-end gap-1.5">
      <Choose
        label={label}
        value={value}
        choices={ropes.map((r: Rope) => ({ value: r.id, label: r.name }))}
        onChange={change}
        className="grow"
      />
      <span className="mb-2">
        <Swatch rope={plan.shed.ropes?.find((r) => r.id === value)} />
      </span>
    </span>
  );
}

function Stoppers({
  system,
  at,
  strands,
}: {
  system: Exclude<System, { kind: "none" }>;
  at: Path;
  strands: readonly EndRef[];
}) {
  const { plan, edit } = useSession();
  const stoppers = system.stoppers ?? [];
  const has = (e: EndRef) => stoppers.some((s) => s.rope === e.rope && s.end === e.end);
  return (
    <fieldset className="col-span-4 flex flex-wrap items-center gap-x-5">
      <legend className="quiet float-left mr-4 text-xs">stopper in</legend>
      {strands.map((e) => (
        <label key={`${e.rope}-${e.end}`} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="size-4 accent-[var(--color-accent)]"
            checked={has(e)}
            onChange={() =>
              edit(
                setAt(
                  [...at, "stoppers"],
                  has(e) ? stoppers.filter((s) => s.rope !== e.rope || s.end !== e.end) : [...stoppers, e],
                ),
              )
            }
          />
          {plan.shed.ropes?.find((r) => r.id === e.rope)?.name ?? "missing rope"}, end {e.end.toUpperCase()}
        </label>
      ))}
    </fieldset>
  );
}

export function Ropes({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const which = useWhich();
  const at: Path = ["drops", `#${drop.id}`, "station", "states", which, "system"];
  const state = drop.station.states[0]!;
  const s = state.system;
  const hang = drop.station.strands_hang ?? "unknown";
  const other = (e: "a" | "b"): "a" | "b" => (e === "a" ? "b" : "a");
  const rope = (label: string, field: string, value: string, only?: "rope" | "cord") => (
    <RopeChoice
      label={label}
      path={[...at, field]}
      value={value}
      system={s}
      systemAt={at}
      {...(only ? { only } : {})}
    />
  );
  return (
    <>
      <div className="grid grid-cols-4 gap-x-4 gap-y-2">
        <Choose
          label="rope system"
          value={s.kind}
          choices={KINDS}
          onChange={(k) => edit(setAt(at, systemOf(k, plan, s)))}
          className="col-span-2"
        />
        {s.kind === "doubled" && (
          <>
            {rope("rope", "rope", s.rope)}
            <ChoiceField label="end pulled" path={[...at, "pulled_end"]} value={s.pulled_end} choices={ENDS} />
            <ChoiceField
              label="middle found by"
              path={[...at, "middle_by"]}
              value={s.middle_by}
              choices={[
                { value: "mark", label: "its mark" },
                { value: "ends run together", label: "running both ends" },
              ]}
            />
            <Stoppers
              system={s}
              at={at}
              strands={[
                { rope: s.rope, end: "a" },
                { rope: s.rope, end: "b" },
              ]}
            />
          </>
        )}
        {s.kind === "joined" && (
          <>
            {rope("through the ring", "through", s.through)}
            {rope("other rope, pulled", "other", s.other)}
            <ChoiceField
              label="hanging end, through"
              path={[...at, "through_end"]}
              value={s.through_end}
              choices={ENDS}
            />
            <ChoiceField label="hanging end, other" path={[...at, "other_end"]} value={s.other_end} choices={ENDS} />
            <ChoiceField label="joined by" path={[...at, "knot"]} value={s.knot ?? "flat overhand"} choices={JOINS} />
            <FigureField
              label="tails of the join, each"
              path={[...at, "tails_m"]}
              figure={s.tails_m}
              quantity="fine length"
              why="not decided"
            />
            <ChoiceField
              label="pulled"
              path={[...at, "pulled"]}
              value={s.pulled ?? "other"}
              choices={[
                { value: "other", label: "the side the join is on" },
                { value: "through", label: "the rope through the ring" },
              ]}
            />
            <CapacityField
              className="col-span-4"
              label="the join slips at, by the party's own pull test"
              path={[...at, "slips_kn"]}
              capacity={s.slips_kn ?? { kind: "unknown", why: "" }}
              sources={["own pull test"]}
            />
            <Stoppers
              system={s}
              at={at}
              strands={[
                { rope: s.through, end: s.through_end },
                { rope: s.other, end: s.other_end },
              ]}
            />
          </>
        )}
        {s.kind === "blocked, same rope" && (
          <>
            {rope("rope", "rope", s.rope)}
            <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
            <SurveyField
              label="rope given to the ride strand"
              path={[...at, "ride_m"]}
              figure={s.ride_m}
              quantity="length"
              why="not decided"
              className="col-span-2"
            />
            <Block s={s} at={at} />
            <TiedOn s={s} at={at} />
            <Stoppers system={s} at={at} strands={[lower(s), { rope: s.rope, end: other(s.ridden_end) }]} />
          </>
        )}
        {s.kind === "blocked, pull cord" && (
          <>
            {rope("rope, ridden", "rope", s.rope)}
            {rope("pull cord, or a second rope", "cord", s.cord)}
            <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
            <ChoiceField label="hanging end of the cord" path={[...at, "cord_end"]} value={s.cord_end} choices={ENDS} />
            <ChoiceField
              label="cord joined by"
              path={[...at, "knot"]}
              value={s.knot ?? "flat overhand"}
              choices={JOINS}
            />
            <FigureField
              label="tails of the join, each"
              path={[...at, "tails_m"]}
              figure={s.tails_m}
              quantity="fine length"
              why="not decided"
            />
            <Block s={s} at={at} />
            <CapacityField
              className="col-span-4"
              label="the join slips at, by the party's own pull test"
              path={[...at, "slips_kn"]}
              capacity={s.slips_kn ?? UNKNOWN("")}
              sources={["own pull test"]}
            />
            <TiedOn s={s} at={at} />
            <Stoppers system={s} at={at} strands={[lower(s), { rope: s.cord, end: s.cord_end }]} />
          </>
        )}
        {s.kind === "releasable" && (
          <>
            {rope("rope", "rope", s.rope)}
            <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
            <SurveyField
              label="let out from the tie-off"
              path={[...at, "ride_m"]}
              figure={s.ride_m}
              quantity="length"
              why="not decided"
              className="col-span-2"
            />
            <ChoiceField
              label="tied off by"
              path={[...at, "tie_off"]}
              value={s.tie_off}
              choices={["munter-mule-overhand", "figure-eight device mule"]}
            />
            <Choose
              label="joined on behind the reserve"
              value={s.reserve_rope ?? ""}
              choices={[
                { value: "", label: "nothing" },
                ...(plan.shed.ropes ?? [])
                  .filter((r) => r.kind !== "pull cord" && r.id !== s.rope)
                  .map((r) => ({ value: r.id, label: r.name })),
              ]}
              onChange={(v) => edit(setAt([...at, "reserve_rope"], v || null))}
            />
            {s.reserve_rope && (
              <ChoiceField
                label="by its end"
                path={[...at, "reserve_end"]}
                value={s.reserve_end ?? "a"}
                choices={ENDS}
              />
            )}
            {s.reserve_rope && (
              <ChoiceField
                label="joined by"
                path={[...at, "reserve_knot"]}
                value={s.reserve_knot ?? "opposed overhand"}
                choices={JOINS}
                className="col-span-2"
              />
            )}
            <TiedOn s={s} at={at} />
            <Stoppers system={s} at={at} strands={[lower(s)]} />
          </>
        )}
        {s.kind === "lowered" && (
          <>
            {rope("rope", "rope", s.rope)}
            <ChoiceField label="end the person is tied to" path={[...at, "end"]} value={s.end} choices={ENDS} />
            <ChoiceField
              label="belayer stands"
              path={[...at, "belayer"]}
              value={s.belayer ?? "above"}
              choices={[
                { value: "above", label: "at the anchor" },
                { value: "below", label: "at the landing, rope over the ring" },
              ]}
            />
            <label className="flex items-center gap-1.5 self-end pb-1.5">
              <input
                type="checkbox"
                className="size-4 accent-[var(--color-accent)]"
                checked={s.far_end_closed ?? false}
                onChange={(e) => edit(setAt([...at, "far_end_closed"], e.target.checked))}
              />
              belayer's end knotted or tied in
            </label>
          </>
        )}
        {s.kind === "elastic-release device" && (
          <>
            {rope("rope", "rope", s.rope)}
            <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
            <ChoiceField
              label="device"
              path={[...at, "device"]}
              value={s.device}
              choices={(plan.shed.devices ?? [])
                .filter((d) => d.use === "elastic release")
                .map((d) => ({ value: d.id, label: d.name }))}
            />
            <Stoppers system={s} at={at} strands={[{ rope: s.rope, end: s.ridden_end }]} />
          </>
        )}
        {s.kind === "alternating bights" && (
          <>
            {rope("rope, ridden", "rope", s.rope)}
            <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
            <Choose
              label="pull strand"
              value={s.other ?? ""}
              choices={[
                { value: "", label: "the other end of the same rope" },
                ...(plan.shed.ropes ?? []).filter((r) => r.id !== s.rope).map((r) => ({ value: r.id, label: r.name })),
              ]}
              onChange={(v) => edit(setAt([...at, "other"], v || null))}
            />
            {s.other ? (
              <ChoiceField
                label="hanging end, pull strand"
                path={[...at, "other_end"]}
                value={s.other_end ?? "b"}
                choices={ENDS}
              />
            ) : (
              <ChoiceField
                label="middle found by"
                path={[...at, "middle_by"]}
                value={s.middle_by ?? "mark"}
                choices={[
                  { value: "mark", label: "its mark" },
                  { value: "ends run together", label: "running both ends" },
                ]}
              />
            )}
            <FigureField label="bights" path={[...at, "bights"]} figure={s.bights} quantity="count" why="not decided" />
            <ChoiceField
              label="last bight made of"
              path={[...at, "last_on"]}
              value={s.last_on ?? "pull"}
              choices={[
                { value: "pull", label: "the pull strand" },
                { value: "ride", label: "the ridden strand" },
              ]}
            />
            <FigureField
              label="length of the last bight"
              path={[...at, "last_m"]}
              figure={s.last_m}
              quantity="fine length"
              why="not decided"
            />
            <label className="col-span-2 flex items-center gap-1.5 self-end pb-1.5">
              <input
                type="checkbox"
                className="size-4 accent-[var(--color-accent)]"
                checked={s.clipped ?? true}
                onChange={(e) => edit(setAt([...at, "clipped"], e.target.checked))}
              />
              last bight clipped to the ride strand for all but the last
            </label>
            <CapacityField
              className="col-span-4"
              label="what this chain of bights holds, by your own pull test"
              path={[...at, "block_holds"]}
              capacity={s.block_holds ?? UNKNOWN("not tested")}
              sources={["own pull test"]}
            />
            <Stoppers
              system={s}
              at={at}
              strands={[
                { rope: s.rope, end: s.ridden_end },
                s.other ? { rope: s.other, end: s.other_end ?? "b" } : { rope: s.rope, end: other(s.ridden_end) },
              ]}
            />
          </>
        )}
        {a.retrieval.side.strand && (
          <ChoiceField
            label="pulled strand lies, facing the rock"
            path={["drops", `#${drop.id}`, "station", "states", which, "pulled_lies"]}
            value={state.pulled_lies ?? "unknown"}
            choices={[
              ...LIES[hang],
              { value: "unknown", label: hang === "unknown" ? "unknown: see Survey first" : "unknown" },
            ]}
            className="col-span-2"
          />
        )}
        {(plan.shed.ropes ?? []).length === 0 && (
          <p className="sev-Not-checked col-span-4 text-xs">There is no rope in the shed yet.</p>
        )}
      </div>
      <Aids drop={drop} a={a} />
    </>
  );
}

type Split = Extract<System, { kind: "blocked, same rope" | "blocked, pull cord" | "releasable" }>;

/** The end that hangs down: of the rope, or of the one tied on below it. */
const lower = (s: Split): EndRef =>
  s.tied_on ? { rope: s.tied_on.rope, end: s.tied_on.end ?? "b" } : { rope: s.rope, end: s.ridden_end };

/** A second rope tied to the lower end of the ride strand. */
function TiedOn({ s, at }: { s: Split; at: Path }) {
  const { plan, edit } = useSession();
  const others = (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord" && r.id !== s.rope);
  const here: Path = [...at, "tied_on"];
  const choose = (id: string) => {
    const next: Split["tied_on"] = id
      ? {
          rope: id,
          end: "b",
          knot: plan.policies?.join ?? "flat overhand, second behind",
          tails_m: known(0.3, "given"),
          slips_kn: UNKNOWN("no pull test of the party's own"),
        }
      : null;
    const [was, is] = [lower(s), lower({ ...s, tied_on: next })];
    // Its stopper goes down with the end.
    edit(
      setAt(here, next),
      setAt(
        [...at, "stoppers"],
        (s.stoppers ?? []).map((e) => (e.rope === was.rope && e.end === was.end ? is : e)),
      ),
    );
  };
  return (
    <>
      <Choose
        label="tied on below"
        value={s.tied_on?.rope ?? ""}
        choices={[{ value: "", label: "nothing" }, ...others.map((r) => ({ value: r.id, label: r.name }))]}
        onChange={choose}
      />
      {s.tied_on && (
        <ChoiceField
          label="its end that hangs down"
          path={[...here, "end"]}
          value={s.tied_on.end ?? "b"}
          choices={ENDS}
        />
      )}
      {s.tied_on && (
        <ChoiceField
          label="tied on by"
          path={[...here, "knot"]}
          value={s.tied_on.knot ?? "flat overhand"}
          choices={JOINS}
        />
      )}
      {s.tied_on && (
        <FigureField
          label="tails, each"
          path={[...here, "tails_m"]}
          figure={s.tied_on.tails_m ?? UNKNOWN("")}
          quantity="fine length"
          why="not decided"
        />
      )}
    </>
  );
}

function Block({ s, at }: { s: Extract<System, { kind: "blocked, same rope" | "blocked, pull cord" }>; at: Path }) {
  const { edit } = useSession();
  const guide = useQuery({ queryKey: ["knots"], queryFn: api.knots, staleTime: Infinity }).data?.find(
    (k) => k.key === s.block || k.name.startsWith(s.block) || k.name.includes(s.block),
  );
  return (
    <>
      <ChoiceField label="block" path={[...at, "block"]} value={s.block} choices={BLOCKS} />
      <ChoiceField
        label="block lies"
        path={[...at, "block_on"]}
        value={s.block_on ?? "pull"}
        choices={[
          { value: "pull", label: "on the pulled side" },
          { value: "ride", label: "on the ridden side" },
        ]}
      />
      <label className="flex items-center gap-1.5 self-end pb-1.5">
        <input
          type="checkbox"
          className="size-4 accent-[var(--color-accent)]"
          checked={s.carabiner}
          onChange={(e) => edit(setAt([...at, "carabiner"], e.target.checked))}
        />
        carabiner in it
      </label>
      {guide && (
        <p className="quiet col-span-2 self-end pb-1 text-xs">
          Unties after load: {guide.unties}. {guide.dressing}
        </p>
      )}
      <CapacityField
        className="col-span-4"
        label="what this block holds on this ring, by your own pull test: unknown until somebody has pulled it"
        path={[...at, "block_holds"]}
        capacity={s.block_holds ?? { kind: "unknown", why: "" }}
        sources={["own pull test"]}
      />
    </>
  );
}
