// What the guide does otherwise, kept as a school of their own; and which of them this station follows.
import { useEffect, useState } from "react";
import type { KeptChange, OwnSchool } from "../../state/model";
import { useSession } from "../../state/plan";
import { useGoing } from "../../state/rehearsal";
import { freshSchool, oneOfEach, ownSchools, useForNewPlans } from "../../state/schools";
import { Said } from "../../ui/Num";
import { followHere, keepAs } from "./through";

/** The schools of one's own at this station: whom each is followed for and what it changes. */
export function SchoolsHere() {
  const { run } = useGoing();
  const { plan, edit } = useSession();
  if (!run || run.schools.length === 0) return null;
  const names = (ids: readonly string[]) => ids.map((i) => plan.party.find((p) => p.id === i)?.name ?? i).join(", ");
  return (
    <section className="rule-t mt-3 pt-2" aria-label="schools of your own here">
      <h2 className="font-semibold">Schools of your own</h2>
      {run.schools.map((s) => (
        <div key={s.id} className="mt-1 text-[13px]">
          <p className="flex items-start justify-between gap-2">
            <span>
              <b className="font-semibold">{s.name}</b>
              <span className="quiet">
                {!s.here
                  ? ", not here"
                  : !s.place
                    ? ", has no place here"
                    : s.people.length > 0 && `, ${names(s.people)}`}
              </span>
            </span>
            {(s.place || !s.here) && (
              <button
                type="button"
                className="act plain shrink-0 px-1"
                aria-label={`${s.here ? "not here" : "here too"}: ${s.name}`}
                onClick={() => edit(followHere(run.drop, s.id, !s.here))}
              >
                {s.here ? "Not here" : "Here too"}
              </button>
            )}
          </p>
          {s.changes.length > 0 && (
            <ul className="quiet list-disc pl-5">
              {s.changes.map((c, i) => (
                <li key={i}>
                  <Said s={c} />
                </li>
              ))}
            </ul>
          )}
        </div>
      ))}
    </section>
  );
}

/** Keeping what was changed here as the way for this plan, or for all new ones. */
export function KeepSchool() {
  const { run } = useGoing();
  const [open, setOpen] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a form belongs to its station
  useEffect(() => setOpen(false), [run?.drop]);
  if (!run || run.kept.length === 0) return null;
  return (
    <section className="rule-t mt-3 pt-2" aria-label="changed here">
      <h2 className="font-semibold">Changed here</h2>
      {!open && (
        <>
          <ul className="list-disc pl-5 text-[13px]">
            {run.kept.map((c) => (
              <li key={c.edit}>
                <Said s={c.said} />
              </li>
            ))}
          </ul>
          <button type="button" className="act mt-1" onClick={() => setOpen(true)}>
            Keep as a school of your own
          </button>
        </>
      )}
      {open && <Keep drop={run.drop} changes={run.kept} onDone={() => setOpen(false)} />}
    </section>
  );
}

const WHOM: Record<OwnSchool["whom"], string> = {
  each: "for everybody who does the same there",
  guests: "for guests only",
  everybody: "for all who go down, the first and the last too",
};

function Keep({ drop, changes, onDone }: { drop: string; changes: readonly KeptChange[]; onDone: () => void }) {
  const { plan, edit } = useSession();
  const { move, stale } = useGoing();
  const { common, refused, keep } = useForNewPlans();
  const can = changes.filter((c) => c.kept);
  const here = can.filter((c) => c.move === move?.kind);
  const [chosen, setChosen] = useState<readonly number[]>((here.length > 0 ? here : can).map((c) => c.edit));
  const [name, setName] = useState("");
  const [whom, setWhom] = useState<OwnSchool["whom"]>(
    (here.length > 0 ? here : can).every((c) => c.each && c.guest) ? "guests" : "each",
  );
  const [said, setSaid] = useState("");
  const some = can.filter((c) => chosen.includes(c.edit));
  const each = some.some((c) => c.each);
  const onSubmit = async (all: boolean) => {
    const title = name.trim();
    const taken = ownSchools(plan).some((s) => s.name.toLowerCase() === title.toLowerCase());
    const edits = oneOfEach(some);
    const ids = edits.map((e) => (e.kind === "add" ? `own:${e.id}` : ""));
    const wanted = edits.flatMap((e) => [e.kind === "add" ? "" : e.act, "after" in e ? (e.after ?? "") : ""]);
    const lacks = wanted.some((key) => key.startsWith("own:") && !ids.includes(key));
    if (!title) return setSaid("Give it a name: how you would say it to somebody.");
    if (taken) return setSaid(`There is a school “${title}” already.`);
    if (edits.length === 0) return setSaid("Choose what is kept.");
    if (lacks) return setSaid("One of them comes after an act that is put in: choose that too.");
    const school: OwnSchool = {
      id: freshSchool(plan, common),
      name: title,
      whom: each ? whom : "each",
      edits,
      followed: true,
    };
    const here = plan.drops.find((d) => d.id === drop);
    if (here) edit(...keepAs(here, school, chosen));
    if (all) await keep(school);
    onDone();
  };
  return (
    <form className="mt-1 grid gap-1.5 text-[13px]" aria-label="keep as a school" onSubmit={(e) => e.preventDefault()}>
      {changes.map((c) => (
        <label key={c.edit} className="flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            disabled={!c.kept}
            checked={c.kept !== null && chosen.includes(c.edit)}
            onChange={(e) => setChosen(e.target.checked ? [...chosen, c.edit] : chosen.filter((x) => x !== c.edit))}
          />
          <span>
            <Said s={c.said} />
            {c.why && (
              <span className="quiet block">
                It stays here only. <Said s={c.why} />
              </span>
            )}
          </span>
        </label>
      ))}
      <label>
        <span className="quiet text-xs">its name, as you would say it</span>
        <input
          autoFocus
          className="field w-full"
          maxLength={80}
          placeholder="guests stow tethers"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      {each && (
        <label>
          <span className="quiet text-xs">for whom</span>
          <select className="field w-full" value={whom} onChange={(e) => setWhom(e.target.value as OwnSchool["whom"])}>
            {(Object.keys(WHOM) as OwnSchool["whom"][]).map((w) => (
              <option key={w} value={w}>
                {WHOM[w]}
              </option>
            ))}
          </select>
        </label>
      )}
      {(said || refused) && (
        <p role="alert" className="sev-Shortfall">
          {said || refused}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="act" disabled={stale} onClick={() => void onSubmit(false)}>
          For this plan
        </button>
        <button type="button" className="act" disabled={stale} onClick={() => void onSubmit(true)}>
          For all new plans too
        </button>
        <button type="button" className="act plain" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  );
}
