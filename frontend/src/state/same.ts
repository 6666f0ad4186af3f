// What stays while it is the same: a value for whoever looks at it, and what was told before while it is asked anew.
import type { Query } from "@tanstack/react-query";
import { useRef } from "react";
import { shallow } from "./changes";

/** The very same object for as long as none of its fields is another: who looks at it is not drawn anew. */
export function useSame<T extends object>(now: T): T {
  const last = useRef(now);
  if (!shallow(last.current, now)) last.current = now;
  return last.current;
}

/** Keys read ``[what, plan, what it rests on, of which thing…]``: what was told of the same thing stays, of what it
 * rested on before; of another thing nothing does. ``parts``: how many name the thing, where what follows is how it is
 * moved. */
export function sameBefore(key: readonly unknown[], parts = key.length - 3) {
  const alike = ([what, plan, , ...of]: readonly unknown[]) => JSON.stringify([what, plan, of.slice(0, parts)]);
  // biome-ignore lint/suspicious/noExplicitAny: whatever the query answers
  return (before: any, query?: Query<any, any, any, any>) =>
    query && alike(query.queryKey) === alike(key) ? before : undefined;
}
