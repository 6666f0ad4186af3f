// What goes along: the card on paper and on a phone; the station in view as it is drawn there.
import { useState } from "react";
import { useChecking } from "../../state/check";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";

const PAPERS = { a5: "A5", a4: "A4" } as const;
type Paper = keyof typeof PAPERS;

export function GoesAlong() {
  const { view, plan } = useSession();
  const { units } = usePrefs();
  const { dropId, checked } = useChecking();
  const [paper, setPaper] = useState<Paper>("a5");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const drops = plan.drops ?? [];
  const root = `/api/plans/${view.id}/revisions/${view.revision}`;
  const query = new URLSearchParams({ paper, units, ...(chosen.length > 0 ? { drops: chosen.join(",") } : {}) });
  const drop = drops.find((d) => d.id === dropId);
  const flip = (id: string) => setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  return (
    <div className="grid grid-cols-[minmax(240px,1fr)_minmax(0,1.4fr)] gap-6">
      <div>
        <h1 className="mb-2 text-lg font-bold">The card on paper</h1>
        <fieldset className="mb-3">
          <legend className="font-semibold">Paper</legend>
          {(Object.keys(PAPERS) as Paper[]).map((p) => (
            <label key={p} className="mr-4 inline-flex min-h-6 items-center gap-1.5">
              <input type="radio" name="paper" checked={paper === p} onChange={() => setPaper(p)} />
              {PAPERS[p]}
            </label>
          ))}
        </fieldset>
        <fieldset className="mb-3">
          <legend className="font-semibold">Pages</legend>
          <label className="flex min-h-6 items-center gap-1.5">
            <input type="checkbox" checked={chosen.length === 0} onChange={() => setChosen([])} />
            the whole card: overview, every station, strips to cut out, party, cautions
          </label>
          {drops.map((d, i) => (
            <label key={d.id} className="flex min-h-6 items-center gap-1.5">
              <input type="checkbox" checked={chosen.includes(d.id)} onChange={() => flip(d.id)} />
              <span className="num">{i + 1}</span> {d.name}
            </label>
          ))}
        </fieldset>
        <p className="quiet mb-2 text-[13px]">
          Figures in {units === "metric" ? "metric" : "US"} units, as on the screen (M).{" "}
          {checked && checked.people.length === 0 && "No second person has looked at it: the card says so."}
        </p>
        <a className="act" href={`${root}/card.pdf?${query}`} download>
          Write the PDF
        </a>
        <section className="rule-t mt-5 pt-3" aria-label="the card on a phone">
          <h2 className="font-bold">The card on a phone</h2>
          <p className="quiet mb-2 text-[13px]">
            One file with everything within: it opens without a network, a page a station, and keeps its ticks on the
            phone.
          </p>
          <a className="act" href={`${root}/card.html?units=${units}`} download>
            Write the file for a phone
          </a>
        </section>
      </div>
      {drop && (
        <figure>
          <img
            className="w-full max-w-xl border border-[var(--rule)]"
            src={`${root}/cutaway/${drop.id}.svg?units=${units}`}
            alt={`${drop.name}, cut through, as it is printed`}
          />
          <figcaption className="quiet mt-1 text-[13px]">
            {drop.name} as it is printed. Take the figure by itself:{" "}
            {(["svg", "png"] as const).map((form) => (
              <a
                key={form}
                className="mr-2 underline"
                href={`${root}/cutaway/${drop.id}.${form}?units=${units}`}
                download={`${drop.name}.${form}`}
              >
                {form.toUpperCase()}
              </a>
            ))}
          </figcaption>
        </figure>
      )}
    </div>
  );
}
