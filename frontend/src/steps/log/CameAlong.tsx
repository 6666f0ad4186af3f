// What came along on a descent: what its record counts of it. As the plan has it, until it is told otherwise.
import { Trash2 } from "lucide-react";
import { shown } from "../../say";
import type { Trip, UsedThing } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Choose, Labelled, Typed } from "../../ui/fields";
import { counted } from "../../ui/terms";
import { parseTyped } from "../../ui/typed";

const LISTS = ["ropes", "devices", "tethers", "loops", "slings", "rings", "webbing"] as const;

export function CameAlong({
  trip,
  wrong,
  onSet,
}: {
  trip: Trip;
  wrong: (field: string) => string | null;
  onSet: (edit: (used: UsedThing[]) => UsedThing[], what: string) => void;
}) {
  const { plan } = useSession();
  const { units } = usePrefs();
  const length = shown("length", units);
  const used = trip.used ?? [];
  const others = LISTS.flatMap((list) =>
    (plan.shed[list] ?? [])
      .filter((x) => !used.some((u) => u.list === list && u.name === x.name))
      .map((x) => ({ value: `${list} ${x.name}`, label: x.name })),
  );
  const change = (u: UsedThing, more: Partial<UsedThing>) =>
    onSet(
      (all) => all.map((x) => (x.list === u.list && x.name === u.name ? { ...x, ...more } : x)),
      `${u.list} ${u.name} ${Object.keys(more).join()}`,
    );
  return (
    <details className="rule-t mt-3 pt-2">
      <summary className="cursor-pointer font-bold">
        What came along{" "}
        <span className="quiet font-normal">· {counted(used.length, "thing")}, counted in their records</span>
      </summary>
      {used.map((u, i) => (
        <div
          key={`${u.list} ${u.name}`}
          className="mt-1 grid grid-cols-[minmax(8rem,1fr)_7rem_4rem_8rem_2rem] items-end gap-2"
        >
          <span className="truncate pb-1" title={u.name}>
            {u.name}
          </span>
          <Labelled label={`ridden, ${length.unit}`} error={wrong(`used/${i}/metres`)}>
            <Typed
              label={`ridden, ${u.name}`}
              className="num w-full text-right"
              value={
                u.metres === null || u.metres === undefined ? "" : String(Number((u.metres * length.factor).toFixed(1)))
              }
              onCommit={(v) => change(u, { metres: v.trim() ? (parseTyped(v, "length", length.factor) ?? -1) : null })}
            />
          </Labelled>
          <Labelled label="falls" error={wrong(`used/${i}/falls`)}>
            <Typed
              label={`falls, ${u.name}`}
              className="num w-full text-right"
              value={String(u.falls ?? 0)}
              onCommit={(v) => change(u, { falls: parseTyped(v, "count", 1) ?? -1 })}
            />
          </Labelled>
          <Choose
            label="got wet"
            value={u.wet ?? "by flow"}
            choices={[
              { value: "by flow", label: "as the flow" },
              "yes",
              "no",
              { value: "unknown", label: "not noted" },
            ]}
            onChange={(v) => change(u, { wet: v as UsedThing["wet"] })}
          />
          <button
            type="button"
            className="act plain px-1"
            aria-label={`${u.name} did not come along`}
            onClick={() => onSet((all) => all.filter((x) => !(x.list === u.list && x.name === u.name)), "less")}
          >
            <Trash2 size={14} />
          </button>
        </div>
      ))}
      {others.length > 0 && (
        <Choose
          label="came along too"
          className="mt-2 w-64"
          value=""
          choices={others}
          onChange={(v) => {
            const list = v.slice(0, v.indexOf(" ")) as UsedThing["list"];
            onSet(
              (all) => [...all, { list, name: v.slice(list.length + 1), metres: null, falls: 0, wet: "by flow" }],
              "more",
            );
          }}
        />
      )}
    </details>
  );
}
