// What was told before, while the same is asked anew.
import type { Query } from "@tanstack/react-query";

/** Keys read ``[what, plan, what it rests on, of which thing…]``: what was told of the same thing stays, of what it
 * rested on before; of another thing nothing does. */
export function sameBefore(...key: readonly unknown[]) {
  const alike = ([what, plan, , ...of]: readonly unknown[]) => JSON.stringify([what, plan, of]);
  // biome-ignore lint/suspicious/noExplicitAny: whatever the query answers
  return (before: any, query?: Query<any, any, any, any>) =>
    query && alike(query.queryKey) === alike(key) ? before : undefined;
}
