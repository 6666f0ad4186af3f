// What is stored and cannot be read: said where it belongs, saved as it is, put away or had back. Nothing else is
// harmed by it.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refusal } from "../api/client";
import type { Unread } from "../state/model";

/** What cannot be read, of some kinds, of one plan and of none. */
export function useUnread(kinds?: readonly Unread["kind"][], plan?: string): readonly Unread[] {
  const query = useQuery({ queryKey: ["unreadable"], queryFn: api.unreadable, retry: false });
  return (query.data ?? []).filter(
    (u) =>
      (kinds === undefined || kinds.includes(u.kind)) && (plan === undefined || u.plan_id === "" || u.plan_id === plan),
  );
}

export function Unreadable({ kinds, plan }: { kinds?: readonly Unread["kind"][]; plan?: string }) {
  const client = useQueryClient();
  const found = useUnread(kinds, plan);
  const [said, setSaid] = useState("");
  if (found.length === 0) return null;
  const put = async (u: Unread, away: boolean) => {
    setSaid("");
    try {
      client.setQueryData(["unreadable"], await api.putAway(u.kind, u.id, away));
      // It counts in whatever rests on it.
      await client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "unreadable" });
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      setSaid(e.problem.detail);
    }
  };
  return (
    <ul
      aria-label="what cannot be read"
      className="mb-3"
      data-testid="unreadable"
      data-path={found.some((u) => u.kind === "gear record") ? "shed/unread" : undefined}
    >
      {found.map((u) => (
        <li key={`${u.kind} ${u.id}`} className="rule-t flex flex-wrap items-center gap-x-3 py-1.5">
          <span className={u.away ? "quiet" : "sev-Not-checked font-semibold"}>
            {u.told.charAt(0).toUpperCase() + u.told.slice(1)} cannot be read
            {u.away ? " and is put away." : `: ${u.why}.`}
          </span>
          <a
            className="act plain"
            href={`/api/unreadable/file?${new URLSearchParams({ kind: u.kind, id: u.id })}`}
            download
          >
            Save as it is
          </a>
          <button type="button" className="act plain" onClick={() => void put(u, !u.away)}>
            {u.away ? "Have it back" : "Put it away"}
          </button>
        </li>
      ))}
      {said && (
        <li role="alert" className="sev-Shortfall">
          {said}
        </li>
      )}
    </ul>
  );
}
