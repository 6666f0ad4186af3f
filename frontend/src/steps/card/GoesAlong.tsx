// What goes along: the card on paper and on a phone; the station in view as it is drawn there.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refusal } from "../../api/client";
import { useChecking } from "../../state/check";
import type { ShownCard } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useWorking } from "../../state/working";

const PAPERS = { a5: "A5", a4: "A4" } as const;
type Paper = keyof typeof PAPERS;

export function GoesAlong() {
  const { view, plan } = useSession();
  const { units } = usePrefs();
  const { dropId, checked } = useChecking();
  const [paper, setPaper] = useState<Paper>("a5");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [who, setWho] = useState("");
  const drops = plan.drops ?? [];
  const root = `/api/plans/${view.id}/revisions/${view.revision}`;
  const query = new URLSearchParams({ paper, units });
  if (chosen.length > 0) query.set("drops", chosen.join(","));
  if (who) query.set("who", who);
  const drop = drops.find((d) => d.id === dropId);
  const flip = (id: string) => setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  return (
    <div className="grid grid-cols-[minmax(0,1.5fr)_minmax(240px,1fr)] gap-6">
      <div>
        <h1 className="text-lg font-bold">The card on paper</h1>
        <Pages root={root} query={`${query}`} />
      </div>
      <div>
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
        <label className="mb-3 block">
          <span className="font-semibold">For</span>{" "}
          <select className="field" value={who} onChange={(e) => setWho(e.target.value)}>
            <option value="">everybody</option>
            {plan.party.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}: what they do
              </option>
            ))}
          </select>
        </label>
        <p className="quiet mb-2 text-[13px]">
          Figures in {units === "metric" ? "metric" : "US"} units, as on the screen (M).{" "}
          {checked && checked.people.length === 0 && "No second person has looked at it: the card says so."}
        </p>
        <a className="act" href={`${root}/card.pdf?${query}`} download>
          Write the PDF
        </a>
        {drop && (
          <p className="quiet mt-3 text-[13px]">
            {drop.name} cut through, by itself:{" "}
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
          </p>
        )}
        <section aria-label="the card on a phone" className="rule-t mt-5 pt-3">
          <h2 className="font-bold">The card on a phone</h2>
          <p className="quiet mb-2 text-[13px]">
            One file with everything within: it opens without a network, a page a station, keeps its ticks on the phone,
            and takes what was found on site.
          </p>
          <a className="act" href={`${root}/card.html?units=${units}`} download>
            Write the file for a phone
          </a>
        </section>
        <InTheRoom />
      </div>
    </div>
  );
}

/** What will be printed, page by page. */
function Pages({ root, query }: { root: string; query: string }) {
  const { view } = useSession();
  const [at, setAt] = useState(1);
  const { data, error } = useQuery({
    queryKey: ["pages", root, query, view.rests, view.standing.verdicts],
    queryFn: ({ signal }) => api.cardPages(root, query, signal),
    staleTime: Infinity,
    retry: false,
  });
  const working = useWorking(!data && !error);
  const n = Math.min(at, data?.pages ?? 1);
  return (
    <section aria-label="what will be printed">
      <div className="mb-1 flex items-center gap-2">
        <button
          type="button"
          className="act plain"
          aria-label="the page before"
          disabled={n <= 1}
          onClick={() => setAt(n - 1)}
        >
          ‹
        </button>
        <span className="num" data-testid="page" aria-live="polite">
          {data ? `page ${n} of ${data.pages}` : (error?.message ?? `Laying it out… ${working}`)}
        </span>
        <button
          type="button"
          className="act plain"
          aria-label="the next page"
          disabled={n >= (data?.pages ?? 1)}
          onClick={() => setAt(n + 1)}
        >
          ›
        </button>
      </div>
      {data && (
        <img
          className="w-full max-w-xl border border-[var(--rule)] bg-white"
          src={`${root}/card/pages/${n}.png?${query}&of=${view.rests}-${view.standing.verdicts}`}
          alt={`page ${n} of the card as it is printed; the PDF holds its text`}
        />
      )}
    </section>
  );
}

const MINUTES = [10, 30, 120] as const;

/** The card shown to a phone in the room, under a link that expires. */
function InTheRoom() {
  const { view } = useSession();
  const { units } = usePrefs();
  const client = useQueryClient();
  const [minutes, setMinutes] = useState<number>(30);
  const [made, setMade] = useState<ShownCard | null>(null);
  const [refused, setRefused] = useState("");
  const [busy, setBusy] = useState(false);
  const { data } = useQuery({ queryKey: ["sharing"], queryFn: api.sharing, refetchInterval: 15_000 });
  const again = () => client.invalidateQueries({ queryKey: ["sharing"] });
  const show = async () => {
    setBusy(true);
    try {
      setMade(await api.share(view.id, view.revision, units, minutes));
      setRefused("");
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      setRefused(e.problem.detail);
    }
    setBusy(false);
    await again();
  };
  const end = async (id: string) => {
    await api.endShare(id);
    if (made?.id === id) setMade(null);
    await again();
  };
  const until = (s: ShownCard) =>
    new Date(s.until).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
  return (
    <section className="rule-t mt-5 pt-3" aria-label="a phone in the room">
      <h2 className="font-bold">A phone in the room</h2>
      {data && !data.on && (
        <p className="quiet text-[13px]">
          Off. Started with <code>reamer serve --share</code>, chosen cards are shown on a second port, and nothing
          else.
        </p>
      )}
      {data?.on && (
        <>
          <p className="quiet mb-2 text-[13px]">
            Revision {view.revision} as it is now, to be looked at and saved; anybody in the same network who has the
            link sees it until it expires.
          </p>
          <label className="mr-2 text-[13px]">
            for{" "}
            <select className="field" value={minutes} onChange={(e) => setMinutes(Number(e.target.value))}>
              {MINUTES.map((m) => (
                <option key={m} value={m}>
                  {m} minutes
                </option>
              ))}
            </select>
          </label>
          <button type="button" className="act" disabled={busy} onClick={() => void show()}>
            {busy ? "Making it…" : "Show it"}
          </button>
        </>
      )}
      {refused && (
        <p role="alert" className="sev-Shortfall font-semibold">
          {refused}
        </p>
      )}
      {made && (
        <figure className="mt-2" data-testid="link">
          <img className="w-56" src={made.code} alt="the link as a code to be read by a phone" />
          <figcaption className="text-[13px] break-all">{made.link}</figcaption>
        </figure>
      )}
      <ul>
        {(data?.cards ?? []).map((s) => (
          <li key={s.id} className="flex items-center gap-2 text-[13px]">
            {s.title}, revision {s.revision}, until {until(s)}
            <button type="button" className="act plain" onClick={() => void end(s.id)}>
              End it
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
