// How the check stands: the count, who checks, how much was looked at, objections, what is open again.
import { Link } from "react-router";
import { useChecking } from "../../state/check";
import type { Looked } from "../../state/model";
import { useSession } from "../../state/plan";
import { Standing } from "../../ui/Findings";
import { MarkLine } from "../../ui/MarkLine";
import { Said } from "../../ui/Num";

export function CardRight() {
  const { checked, by, setBy } = useChecking();
  const looked = checked?.looked ?? [];
  const of = (...kinds: Looked["item"]["kind"][]) => {
    const some = looked.filter((x) => kinds.includes(x.item.kind));
    return `${some.filter((x) => x.state !== "open").length} of ${some.length}`;
  };
  const objected = looked.filter((x) => x.state === "objected");
  const again = looked.filter((x) => x.state === "open" && x.marks.length > 0);
  return (
    <section aria-label="how the check stands">
      <h1 className="text-lg font-bold">Second check</h1>
      {checked && (
        <div className="mt-1" data-testid="count" aria-live="polite">
          <Standing tally={checked.tally} />
        </div>
      )}
      <label className="mt-3 block text-[13px]">
        <span className="font-semibold">Who checks</span>
        <input
          className="field mt-0.5 block w-full"
          value={by}
          maxLength={80}
          placeholder="a name, not the one who planned it"
          onChange={(e) => setBy(e.target.value)}
        />
      </label>
      {checked && (
        <dl className="mt-3 grid grid-cols-[1fr_auto] gap-x-3 gap-y-0.5 text-[13px]">
          <dt className="quiet">stations looked at</dt>
          <dd className="text-right font-semibold">{of("station")}</dd>
          <dt className="quiet">findings looked at</dt>
          <dd className="text-right font-semibold">{of("finding")}</dd>
          <dt className="quiet">orders of acts looked at</dt>
          <dd className="text-right font-semibold">{of("acts")}</dd>
          <dt className="quiet">by</dt>
          <dd className="text-right font-semibold">{checked.people.join(", ") || "nobody"}</dd>
        </dl>
      )}
      {objected.length > 0 && <Some title="Objections" of={objected} />}
      {again.length > 0 && <Some title="Open again, because something changed" of={again} />}
    </section>
  );
}

function Some({ title, of }: { title: string; of: readonly Looked[] }) {
  const { view, plan } = useSession();
  const drops = plan.drops ?? [];
  return (
    <section className="rule-t mt-3 pt-2" aria-label={title}>
      <h2 className="font-bold">{title}</h2>
      <ul>
        {of.map((x) => (
          <li key={x.item.key} className="py-1.5 text-[13px]">
            {drops.some((d) => d.id === x.item.drop) && (
              <Link
                className="mr-1.5 inline-block min-w-6 px-1 text-center font-semibold underline"
                to={`/plans/${view.id}/card/${x.item.drop}`}
                aria-label={`go to drop ${drops.findIndex((d) => d.id === x.item.drop) + 1}`}
              >
                {drops.findIndex((d) => d.id === x.item.drop) + 1}
              </Link>
            )}
            <span className="font-semibold">
              <Said s={x.item.title} />
            </span>
            {x.marks.map((m) => (
              <MarkLine key={m.by} m={m} />
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}
