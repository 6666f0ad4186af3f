// What hangs between the anchor and the rope, in order: slings as they are rigged, connectors as they lie, last the
// ring.
import { Plus, Trash2 } from "lucide-react";
import { freshId, known, setAt, unknown } from "../../state/edits";
import type { Link, Rig, Ring } from "../../state/model";
import { useSession } from "../../state/plan";
import { ChoiceField, FigureField, type Path } from "../../ui/fields";

const USES = [
  { value: "straight", label: "straight" },
  { value: "overhand", label: "an overhand in it" },
  { value: "basket", label: "basket" },
  { value: "basket double", label: "double basket" },
  { value: "shortened", label: "wrapped to shorten" },
  { value: "girth", label: "girth-hitched" },
];
const closed = (ring: Ring | undefined) => ring?.kind === "ring" || ring?.kind === "plate";
export const LIES = [
  { value: "long axis", label: "along its long axis" },
  { value: "cross", label: "across" },
  { value: "gate open", label: "gate open" },
  { value: "unknown", label: "nobody has looked" },
];

const lies = (ring: Ring | undefined) => (ring?.kind === "link" ? LIES.filter((x) => x.value !== "gate open") : LIES);
const ROW = "grid grid-cols-[1fr_1fr_5.5rem_6.5rem_1.6rem] items-end gap-x-3";

export function Links({ rig, at }: { rig: Exclude<Rig, { kind: "none" }>; at: Path }) {
  const { plan, edit } = useSession();
  const links = rig.links ?? [];
  const path: Path = [...at, "links"];
  const rings = plan.shed.rings ?? [];
  const slings = plan.shed.slings ?? [];
  const add = (link: Link) => edit(setAt(path, [...links, link]));
  const ring = rings.find((r) => r.id === rig.ring);
  return (
    <fieldset className="col-span-3">
      <legend className="quiet text-xs">
        from the {rig.kind === "wrap" ? "focal point" : "anchor"} to the rope
        {slings.length > 0 && (
          <button
            type="button"
            className="act plain ml-3"
            onClick={() =>
              add({
                kind: "sling",
                id: freshId("l", links),
                sling: slings[0]!.id,
                use: "straight",
                angle_deg: unknown("not measured"),
                reach_m: known(0.3, "given"),
              })
            }
          >
            <Plus size={13} className="inline" /> sling
          </button>
        )}
        {rings.length > 0 && (
          <button
            type="button"
            className="act plain ml-1"
            onClick={() =>
              add({
                kind: "connector",
                id: freshId("l", links),
                ring: rings[0]!.id,
                loaded: "unknown",
                stacked: false,
                reach_m: known(0.05, "given"),
              })
            }
          >
            <Plus size={13} className="inline" /> connector
          </button>
        )}
        {(plan.shed.webbing ?? []).length > 0 && (
          <button
            type="button"
            className="act plain ml-1"
            onClick={() =>
              add({
                kind: "webbing",
                id: freshId("l", links),
                webbing: plan.shed.webbing![0]!.id,
                same: false,
                reach_m: known(1, "given"),
              })
            }
          >
            <Plus size={13} className="inline" /> webbing
          </button>
        )}
      </legend>
      {links.map((l) => (
        <LinkRow
          key={l.id}
          l={l}
          here={[...path, `#${l.id}`]}
          remove={() =>
            edit(
              setAt(
                path,
                links.filter((x) => x.id !== l.id),
              ),
            )
          }
        />
      ))}
      <div className={ROW}>
        <ChoiceField
          label="ring the rope runs through"
          path={[...at, "ring"]}
          value={rig.ring ?? ""}
          choices={rings.map((r) => ({ value: r.id, label: r.name }))}
        />
        {ring && !closed(ring) ? (
          <ChoiceField
            label="loaded"
            path={[...at, "ring_loaded"]}
            value={rig.ring_loaded ?? "unknown"}
            choices={lies(ring)}
          />
        ) : (
          <span />
        )}
      </div>
    </fieldset>
  );
}

/** One link: what it is, and how far it takes the ring. */
function LinkRow({ l, here, remove }: { l: Link; here: Path; remove: () => void }) {
  return (
    <div className={`${ROW} mb-1`} data-link={l.id}>
      <OfLink l={l} here={here} />
      <FigureField
        label="takes the ring"
        path={[...here, "reach_m"]}
        figure={l.reach_m}
        quantity="length"
        why="not decided"
      />
      <button type="button" className="act plain px-1" aria-label="remove this link" onClick={remove}>
        <Trash2 size={15} />
      </button>
    </div>
  );
}

/** What there is to say of a link of its kind. */
function OfLink({ l, here }: { l: Link; here: Path }) {
  const { plan, edit } = useSession();
  const slings = plan.shed.slings ?? [];
  const rings = plan.shed.rings ?? [];
  return l.kind === "sling" ? (
    <>
      <ChoiceField
        label="sling"
        path={[...here, "sling"]}
        value={l.sling}
        choices={slings.map((s) => ({ value: s.id, label: s.name }))}
      />
      <ChoiceField label="rigged" path={[...here, "use"]} value={l.use} choices={USES} />
      {l.use.startsWith("basket") ? (
        <FigureField
          label="angle of its legs"
          path={[...here, "angle_deg"]}
          figure={l.angle_deg ?? unknown("not measured")}
          quantity="degrees"
          why="not measured"
        />
      ) : (
        <span />
      )}
    </>
  ) : l.kind === "webbing" ? (
    <>
      <ChoiceField
        label="webbing, doubled"
        path={[...here, "webbing"]}
        value={l.webbing}
        choices={(plan.shed.webbing ?? []).map((w) => ({ value: w.id, label: w.name }))}
      />
      <label className="flex items-center gap-1.5 pb-1.5 text-xs">
        <input
          type="checkbox"
          className="size-4 accent-[var(--color-accent)]"
          checked={l.same ?? false}
          onChange={(e) => edit(setAt([...here, "same"], e.target.checked))}
        />
        the tie's own, re-threaded
      </label>
      <span />
    </>
  ) : (
    <>
      <ChoiceField
        label="connector"
        path={[...here, "ring"]}
        value={l.ring}
        choices={rings.map((r) => ({ value: r.id, label: r.name }))}
      />
      {closed(rings.find((r) => r.id === l.ring)) ? (
        <span className="quiet pb-1.5 text-xs">has one way to lie</span>
      ) : (
        <ChoiceField
          label="loaded"
          path={[...here, "loaded"]}
          value={l.loaded ?? "unknown"}
          choices={lies(rings.find((r) => r.id === l.ring))}
        />
      )}
      <label
        className="flex items-center gap-1 pb-1.5 text-xs"
        title="it hangs beside the ring and the rope runs through both: either alone holds"
      >
        <input
          type="checkbox"
          className="size-4 accent-[var(--color-accent)]"
          checked={l.stacked ?? false}
          onChange={(e) => edit(setAt([...here, "stacked"], e.target.checked))}
        />
        stacked
      </label>
    </>
  );
}
