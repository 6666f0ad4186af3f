// A person of the party.
import { known, setAt, unknown } from "../../state/edits";
import type { Person, ThirdHand } from "../../state/model";
import { useSession } from "../../state/plan";
import { At, ChoiceField, Choose, FigureField, type Path } from "../../ui/fields";

const WAYS = [
  { value: "unknown", label: "nobody has said" },
  "climbing rope, clove hitch",
  "double-length nylon sling",
  "long HMPE sling, doubled",
  "sewn chain",
  "adjustable dynamic lanyard",
];
const HITCH: ThirdHand = {
  loop: "",
  knot: "autoblock",
  wraps: unknown("not counted"),
  clipped_m: unknown("not measured"),
  carabiner_m: known(0.1, "given"),
};

/** How the third hand is tied and where it is clipped. */
function Hitch({ h, path }: { h: ThirdHand; path: Path }) {
  return (
    <>
      <ChoiceField
        label="tied as"
        path={[...path, "knot"]}
        value={h.knot ?? "autoblock"}
        choices={["autoblock", "klemheist"]}
      />
      <FigureField
        label="wraps"
        path={[...path, "wraps"]}
        figure={h.wraps ?? unknown("not counted")}
        quantity="count"
        why="not counted"
      />
      <FigureField
        label="clipped, above the belay loop (below: negative)"
        path={[...path, "clipped_m"]}
        figure={h.clipped_m ?? unknown("not measured")}
        quantity="fine length"
        why="not measured"
      />
    </>
  );
}

export function PersonForm({ p, path }: { p: Person; path: Path }) {
  const { plan, edit } = useSession();
  const pick = (label: string, field: "device" | "tether", items: readonly { id: string; name: string }[]) => (
    <At path={[...path, field]} open={!p[field]}>
      <Choose
        label={label}
        value={p[field] ?? ""}
        choices={[{ value: "", label: "nobody has said" }, ...items.map((x) => ({ value: x.id, label: x.name }))]}
        onChange={(v) => edit(setAt([...path, field], v || null))}
      />
    </At>
  );
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField
        label="role"
        path={[...path, "role"]}
        value={p.role}
        choices={["guide", "second guide", "able", "novice"]}
      />
      <FigureField
        label="weight with clothes, kit and wet pack"
        path={[...path, "mass_kg"]}
        figure={p.mass_kg}
        quantity="mass"
        why="not asked"
      />
      {pick("rides on", "device", plan.shed.devices ?? [])}
      {pick("clips in with", "tether", plan.shed.tethers ?? [])}
      <ChoiceField
        label="attached by"
        path={[...path, "attachment", "way"]}
        value={p.attachment?.way ?? "unknown"}
        choices={WAYS}
      />
      <FigureField
        label="device, its lower edge above the belay loop"
        path={[...path, "attachment", "device_m"]}
        figure={p.attachment?.device_m ?? unknown("not measured")}
        quantity="fine length"
        why="not measured"
      />
      <At path={[...path, "hitch", "loop"]}>
        <Choose
          label="third hand"
          value={p.hitch?.loop ?? ""}
          choices={[
            { value: "", label: "none" },
            ...(plan.shed.loops ?? []).map((l) => ({ value: l.id, label: l.name })),
          ]}
          onChange={(v) => edit(setAt([...path, "hitch"], v ? { ...(p.hitch ?? HITCH), loop: v } : null))}
        />
      </At>
      <ChoiceField
        label="may be alone"
        path={[...path, "alone"]}
        value={p.alone ?? "by role"}
        choices={[{ value: "by role", label: "as the role has it" }, "yes", "no"]}
      />
      {p.hitch && <Hitch h={p.hitch} path={[...path, "hitch"]} />}
    </div>
  );
}
