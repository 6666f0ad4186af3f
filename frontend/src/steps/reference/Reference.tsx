// Every figure of the trade that the core uses or knows, with its range and its source; searchable.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api } from "../../api/client";

function range(low: number, high: number): string {
  const say = (x: number) => Number(x.toPrecision(6)).toString().replace("-", "−");
  return low === high ? say(low) : low < 0 ? `${say(low)} to ${say(high)}` : `${say(low)}–${say(high)}`;
}

const TAGS: readonly (readonly [string, string])[] = [
  ["STD", "a published standard"],
  ["HB", "a handbook formula or table"],
  ["P", "common practice, no source"],
  ["J", "our judgement, to be argued with"],
];

export function Reference() {
  const query = useQuery({ queryKey: ["tables"], queryFn: api.tables, staleTime: Infinity, retry: false });
  const [search, setSearch] = useState("");
  useEffect(() => {
    document.querySelector<HTMLInputElement>('input[type="search"]')?.focus();
  }, []);
  const knots = useQuery({ queryKey: ["knots"], queryFn: api.knots, staleTime: Infinity, retry: false });
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const tables = (query.data ?? [])
    .map((t) => ({
      ...t,
      rows: t.rows.filter((r) =>
        words.every((w) => `${t.title} ${r.name} ${r.tag} ${r.source} ${r.note ?? ""}`.toLowerCase().includes(w)),
      ),
    }))
    .filter((t) => t.rows.length > 0);
  const guides = (knots.data ?? []).filter((k) =>
    words.every((w) =>
      `knots uses dressing ${k.name} ${k.use} ${k.unties} ${k.dressing} ${k.tag} ${k.source}`.toLowerCase().includes(w),
    ),
  );
  const count = tables.reduce((n, t) => n + t.rows.length, 0);
  return (
    <div className="flex h-full flex-col bg-base-100">
      <header className="flex h-[46px] shrink-0 items-center gap-4 bg-neutral px-5 text-neutral-content">
        <Link to="/" className="text-[17px] font-bold">
          Reamer
        </Link>
        <h1 className="grow opacity-80">figures and their sources</h1>
        <Link to="/checks" className="min-h-6 text-xs underline">
          What was checked against what
        </Link>
      </header>
      <main className="flex min-h-0 grow flex-col">
        <div className="rule-b flex flex-wrap items-end gap-x-5 gap-y-1 px-5 py-3">
          <label className="w-80">
            <span className="quiet block text-xs">search</span>
            <input
              type="search"
              className="field h-8 w-full"
              aria-label="search the tables"
              placeholder="ring bend, EN 566, judgement …"
              value={search}
              onChange={(e) => setSearch(e.target.value)}
            />
          </label>
          <span className="pb-1.5" role="status">
            {query.data
              ? `${count} figure${count === 1 ? "" : "s"}, ${guides.length} knot${guides.length === 1 ? "" : "s"}`
              : "Reading…"}
          </span>
          <span className="quiet grow pb-1.5 text-right text-xs">
            {TAGS.map(([tag, means]) => `${tag} ${means}`).join(" · ")}
          </span>
        </div>
        {query.error && (
          <p role="alert" className="sev-Shortfall p-5">
            {query.error.message}
          </p>
        )}
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it is moved by keys */}
        <section className="min-h-0 grow overflow-auto px-5 pb-8" tabIndex={0} aria-label="the tables">
          {tables.map((t) => (
            <section key={t.name} className="mt-5" aria-label={t.title}>
              <h2 className="text-base font-bold">{t.title}</h2>
              <p className="quiet mb-1 text-[13px]">{t.about}</p>
              <table className="w-full table-fixed text-[13px]">
                <tbody>
                  {t.rows.map((r) => (
                    <tr key={r.key} className="rule-t align-top">
                      <td className="w-[40%] py-1 pr-3">
                        {r.name}
                        {r.note && <span className="quiet">; {r.note}</span>}
                      </td>
                      <td className="num w-[11%] py-1 text-right">{range(r.low, r.high)}</td>
                      <td className="quiet w-[13%] py-1 pl-1.5">
                        {r.unit === "-" ? "" : r.unit === "d" ? "× diameter" : r.unit}
                      </td>
                      <td className="w-[4%] py-1 font-semibold">{r.tag}</td>
                      <td className="py-1">{r.source}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          ))}
          {guides.length > 0 && (
            <section className="mt-5" aria-label="Knots: uses, untying, dressing">
              <h2 className="text-base font-bold">Knots: uses, untying, dressing</h2>
              <p className="quiet mb-1 text-[13px]">
                What each knot is for, whether it unties after load, and what to look for before it is loaded. A second
                person looks at every knot.
              </p>
              <table className="w-full table-fixed text-[13px]">
                <thead>
                  <tr className="quiet text-left text-xs [&_th]:font-normal">
                    <th className="w-[20%]">knot</th>
                    <th className="w-[15%]">for</th>
                    <th className="w-[13%]">unties after load</th>
                    <th>dressing</th>
                    <th className="w-[16%]">source</th>
                  </tr>
                </thead>
                <tbody>
                  {guides.map((k) => (
                    <tr key={k.key} className="rule-t align-top [&_td]:py-1 [&_td]:pr-3">
                      <td className="font-semibold">{k.name}</td>
                      <td>{k.use}</td>
                      <td>{k.unties}</td>
                      <td>{k.dressing}</td>
                      <td>
                        <b>{k.tag}</b> {k.source}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          )}
          {query.data && count + guides.length === 0 && (
            <p className="mt-6">Nothing in the tables answers to “{search}”. What is not there is unknown to Reamer.</p>
          )}
        </section>
      </main>
    </div>
  );
}
