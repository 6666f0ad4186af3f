// Looking for anything by its words, from anywhere: plans, stations, people, kit, descents, figures.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api } from "../api/client";
import { Dialog } from "./Dialogs";
import { useKeys } from "./keys";

const BEGIN = "\u0002";
const END = "\u0003";

/** A text with what was looked for marked in it. */
function Marked({ text }: { text: string }) {
  return (
    <>
      {text.split(BEGIN).map((part, i) => {
        const [marked, ...rest] = part.split(END);
        return i === 0 ? (
          <span key={i}>{part}</span>
        ) : (
          <span key={i}>
            <mark>{marked}</mark>
            {rest.join("")}
          </span>
        );
      })}
    </>
  );
}

export function Finder() {
  const [open, setOpen] = useState(false);
  useKeys({ find: () => setOpen(true) });
  return open ? <Finding onClose={() => setOpen(false)} /> : null;
}

function Finding({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const { data, error } = useQuery({
    queryKey: ["search", text],
    queryFn: ({ signal }) => api.search(text, signal),
    enabled: text.trim() !== "",
    placeholderData: (before) => before,
    gcTime: 0,
  });
  const hits = text.trim() ? (data?.hits ?? []) : [];
  // The common shed is opened from a plan.
  const plan = /^\/plans\/[^/]+/.exec(useLocation().pathname)?.[0];
  const placeOf = (place: string) => place || (plan ? `${plan}/shed` : "");
  const to = (place: string) => {
    const there = placeOf(place);
    if (!there) return;
    onClose();
    go(there);
  };
  return (
    <Dialog title="Find" onClose={onClose}>
      <input
        className="field w-full"
        aria-label="what to find"
        aria-controls="found"
        aria-activedescendant={hits[at] ? `hit-${at}` : undefined}
        role="combobox"
        aria-expanded={hits.length > 0}
        placeholder="a plan, a station, a person, kit, a descent, a figure"
        autoFocus
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setAt(Math.min(hits.length - 1, at + 1));
          else if (e.key === "ArrowUp") setAt(Math.max(0, at - 1));
          else if (e.key === "Enter") to(hits[at]?.place ?? "");
          else return;
          e.preventDefault();
        }}
      />
      {error && <p role="alert">{error.message}</p>}
      {text.trim() && data && hits.length === 0 && <p className="mt-2">Nothing holds these words.</p>}
      <div id="found" role="listbox" aria-label="what was found" className="mt-2 max-h-[60vh] overflow-y-auto">
        {hits.map((h, i) => (
          // biome-ignore lint/a11y/useFocusableInteractive: the field keeps the focus and says which is chosen
          // biome-ignore lint/a11y/useKeyWithClickEvents: Enter in the field does it
          <div
            key={`${h.kind} ${h.place} ${h.told} ${i}`}
            id={`hit-${i}`}
            role="option"
            aria-selected={i === at}
            aria-disabled={!placeOf(h.place)}
            className={`shed-row !block ${i === at ? "on" : ""}`}
            onClick={() => to(h.place)}
          >
            <span className="font-semibold">
              <Marked text={h.told} />
            </span>{" "}
            <span className="quiet text-xs">
              {h.kind}
              {!placeOf(h.place) && ", to be seen from a plan"}
            </span>
            <span className="quiet block truncate text-[13px]">
              <Marked text={h.text} />
            </span>
          </div>
        ))}
      </div>
    </Dialog>
  );
}
