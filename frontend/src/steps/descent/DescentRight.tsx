// The right-hand side: what to carry first, why, what else; the story of an event that is open; what is wrong.

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api } from "../../api/client";
import { Swatch } from "../../cutaway/Swatch";
import { useAhead } from "../../state/descent";
import { applyEdits } from "../../state/edits";
import { type Num as N, SEVERITIES, type SetView } from "../../state/model";
import { useSession } from "../../state/plan";
import { Findings } from "../../ui/Findings";
import { Num, Said } from "../../ui/Num";
import { counted } from "../../ui/terms";
import { IfItSticks, useInHand } from "../rig/InHand";
import { EVENT_NAMES } from "./marks";

export function DescentRight() {
  const { view, plan } = useSession();
  const { prospect, opened, fresh } = useAhead();
  const { descent } = view.assessment;
  if (opened && prospect) return <Story />;
  const mine = view.assessment.findings.filter((f) => /^(ledger|kit|time)\./.test(f.code));
  return (
    <div className={fresh || !prospect ? "" : "opacity-60"}>
      {prospect ? <ToCarry /> : <h1 className="text-lg font-bold">Ropes to carry</h1>}
      {!prospect && <p className="quiet">Which ropes serve each station is being worked out.</p>}
      {descent.times.out_at && (
        <p className="mt-2 text-[13px]" data-testid="out">
          Out <b>{descent.times.out_at.join(" to ")}</b>
          {descent.times.last_light_at && (
            <>
              ; {descent.times.last_light_is} is <b>{descent.times.last_light_at}</b>
            </>
          )}
          .{descent.times.latest_start_at && ` Start by ${descent.times.latest_start_at}.`}
          {plan.spot?.zone && ` By the clock of ${plan.spot.zone}.`}
        </p>
      )}
      {prospect?.returns.map((r) => (
        <p key={r.drop} className="mt-2 border-l-4 border-accent pl-3 text-[13px]">
          <Said s={r.said} />
        </p>
      ))}
      <div className="mt-3">
        <Findings
          findings={[...(prospect?.findings ?? []), ...mine].sort(
            (a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity),
          )}
        />
      </div>
      {prospect && <Bought />}
      <section className="rule-t mt-1 pt-2 text-[13px]" aria-label="left behind">
        <h2 className="font-bold">Left behind</h2>
        <p>
          {descent.kit.left_in_all.length === 0 && "Nothing."}
          {descent.kit.left_in_all.map((s, i) => (
            <span key={i}>
              {i > 0 && ", "}
              <Said s={s} />
            </span>
          ))}
        </p>
      </section>
    </div>
  );
}

function Weight({ kg, unweighed }: { kg: N; unweighed: number }) {
  return (
    <>
      <Num n={kg} />
      {unweighed > 0 && <span className="sev-Not-checked"> and {unweighed} not weighed</span>}
    </>
  );
}

/** Ropes by name, with their looks. */
export function Named({ ids }: { ids: readonly string[] }) {
  const { plan } = useSession();
  const { lit, light } = useAhead();
  return (
    <span className="flex flex-wrap gap-x-3 gap-y-0.5">
      {ids.map((id) => {
        const rope = (plan.shed.ropes ?? []).find((r) => r.id === id);
        return (
          <button
            key={id}
            type="button"
            aria-pressed={lit === id}
            className={`rope-name ${lit === id ? "on" : ""}`}
            onClick={() => light(lit === id ? "" : id)}
          >
            <Swatch rope={rope} /> {rope?.name ?? "a rope that is gone"}
          </button>
        );
      })}
    </span>
  );
}

const COUNT = ["no ropes", "one rope", "two ropes", "three ropes", "four ropes", "five ropes", "six ropes"];

function ToCarry() {
  const { prospect } = useAhead();
  const got = prospect!.choice;
  const { carried, chosen } = got;
  const same = chosen !== null && chosen.ropes.join() === carried.ropes.join();
  return (
    <>
      <h1 className="text-lg font-bold" data-testid="carried">
        Carry {COUNT[carried.ropes.length] ?? `${carried.ropes.length} ropes`} ·{" "}
        <Weight kg={carried.kg} unweighed={carried.unweighed} />
      </h1>
      <p className="quiet">
        {got.fails.length > 0
          ? "what is carried now"
          : same
            ? "the lightest that does"
            : "does all that is asked of it"}
      </p>
      <div
        className="mt-2 border-l-4 border-accent py-1 pl-3 text-[16px] leading-snug font-medium"
        data-testid="answer"
      >
        <Named ids={carried.ropes} />
        {got.fails.map((s, i) => (
          <p key={i} className="sev-Shortfall text-[14px]">
            <Said s={s} />
          </p>
        ))}
        {same && got.binding[0] && (
          <p className="text-[14px]">
            <Said s={got.binding[0]} />
          </p>
        )}
      </div>
      {chosen ? (
        !same && (
          <section className="mt-2 text-[13px]" aria-label="the lightest set">
            <p className="font-bold">
              Lightest that does all that is asked: <Weight kg={chosen.kg} unweighed={chosen.unweighed} />
            </p>
            <Named ids={chosen.ropes} />
            {got.binding.map((s, i) => (
              <p key={i}>
                <Said s={s} />
              </p>
            ))}
            <Adopt set={chosen} />
          </section>
        )
      ) : (
        <section className="mt-2 text-[13px]" aria-label="no set">
          {got.none.map((s, i) => (
            <p key={i} className="sev-Not-checked font-semibold">
              <Said s={s} />
            </p>
          ))}
        </section>
      )}
      <Others />
    </>
  );
}

function Others() {
  const { prospect } = useAhead();
  const got = prospect!.choice;
  return (
    <div className="mt-2 grid gap-1 text-[13px]">
      {got.next_best.map((s) => (
        <details key={s.ropes.join()}>
          <summary className="quiet min-h-6 cursor-pointer py-0.5">
            next best: <Num n={s.kg} />
            {s.said.map((x, i) => (
              <span key={i}>
                {", "}
                <Said s={x} />
              </span>
            ))}
          </summary>
          <Named ids={s.ropes} />
          <Adopt set={s} />
        </details>
      ))}
      {got.why.map((s, i) => (
        <p key={i}>
          <Said s={s} />
        </p>
      ))}
      {got.buys.map((s, i) => (
        <p key={i} className="quiet">
          <Said s={s} />
        </p>
      ))}
      {got.left_out.length > 0 && (
        <p className="sev-Not-checked">
          {counted(got.left_out.length, "rope")} of the shed not chosen among: there are too many.
        </p>
      )}
    </div>
  );
}

const OF_NEW = ["", "one new rope", "two new ropes", "three new ropes"];

/** The least total length of new ropes that would do; asked for, since it takes a while. */
function Bought() {
  const { view } = useSession();
  const client = useQueryClient();
  const key = ["bought", view.id, view.rests];
  const query = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => api.bought(view.id, view.revision, signal),
    staleTime: Infinity,
    retry: false,
    enabled: false,
  });
  return (
    <section className="rule-t mt-2 pt-2 text-[13px]" aria-label="if ropes were bought or cut">
      <h2 className="font-bold">If ropes were bought or cut for this</h2>
      {query.isFetching ? (
        <p role="status">
          Trying every length…{" "}
          <button
            type="button"
            className="act plain"
            onClick={() => {
              void client.cancelQueries({ queryKey: key });
              void api.cancelProspect(view.id).catch(() => undefined);
            }}
          >
            Stop
          </button>
        </p>
      ) : (
        !query.data && (
          <button type="button" className="act mt-1" onClick={() => void query.refetch()}>
            Find the least length
          </button>
        )
      )}
      {query.error && !query.isFetching && <p role="alert">{query.error.message}</p>}
      {query.data?.map((b) => (
        <p key={b.count} className="mt-0.5">
          <b>{OF_NEW[b.count]}:</b>{" "}
          {b.total ? (
            <>
              <Num n={b.total} /> in all:{" "}
              {b.ropes.map((c, i) => (
                <span key={i}>
                  {i > 0 && ", "}
                  <Num n={c.length} className="font-normal" /> like {c.name}
                </span>
              ))}
            </>
          ) : (
            b.why && <Said s={b.why} />
          )}
        </p>
      ))}
    </section>
  );
}

/** What adopting a set does, and the act. */
function Adopt({ set }: { set: SetView }) {
  const { view, edit } = useSession();
  const { fresh } = useAhead();
  const query = useQuery({
    queryKey: ["adoption", view.id, view.rests, set.ropes.join()],
    queryFn: () => api.adoption(view.id, view.revision, set.ropes),
    staleTime: Infinity,
    retry: false,
    enabled: false,
  });
  const changed = query.data?.stations.filter((s) => s.changed) ?? [];
  const fix = query.data?.fix;
  return (
    <div className="my-1">
      <button
        type="button"
        className="act"
        disabled={!fresh || query.isFetching}
        onClick={async () => {
          const got = query.data ?? (await query.refetch()).data;
          if (got?.fix) edit(applyEdits(got.fix.edits));
        }}
      >
        {query.isFetching ? "Finding each station's way…" : "Carry these, each station its way"}
      </button>{" "}
      {!query.data && (
        <button
          type="button"
          className="act plain"
          disabled={!fresh || query.isFetching}
          onClick={() => void query.refetch()}
        >
          What it changes
        </button>
      )}
      {query.data?.why && (
        <p className="sev-Not-checked">
          <Said s={query.data.why} />
        </p>
      )}
      {fix && (
        <ul className="quiet mt-1 text-xs" aria-label="what it changes">
          {changed.length === 0 && <li>No station is rigged otherwise.</li>}
          {changed.map((s) => (
            <li key={s.drop}>
              {s.number}: {s.system}, {s.ropes}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function Story() {
  const { prospect, opened, open } = useAhead();
  const { edit, plan } = useSession();
  const row = prospect!.rows.find((r) => r.drop === opened!.drop);
  const c = row?.cells.find((x) => x.event === opened!.event);
  const held = useInHand(opened!.drop, c?.event === "stuck");
  if (!row || !c) return null;
  const name = (plan.drops ?? []).find((d) => d.id === row.drop)?.name;
  return (
    <section aria-label="what if" data-testid="story">
      <button type="button" className="act plain -ml-2" onClick={() => open(null)}>
        ← back to the descent
      </button>
      <h1 className="mt-1 text-lg font-bold">{EVENT_NAMES[c.event]}</h1>
      <p className="quiet">
        at {row.number} · {name}
      </p>
      <p className="mt-2 border-l-4 border-accent py-1 pl-3 text-[16px] font-medium">
        {c.number && <Num n={c.number} />} {c.word}
      </p>
      <div className="mt-2 grid gap-1.5">
        {c.story.map((s, i) => (
          <p key={i}>
            <Said s={s} />
          </p>
        ))}
      </div>
      {c.event === "stuck" && held && <IfItSticks got={held} at={null} />}
      {c.fixes.map((f, i) => (
        <button
          key={i}
          type="button"
          className="act mt-2 block !whitespace-normal text-left"
          onClick={() => edit(applyEdits(f.edits))}
        >
          <Said s={f.label} />
        </button>
      ))}
    </section>
  );
}
