// A component in a file of its own, fetched when it is first shown or before. What is there already is shown at once:
// to wait for something that is there costs a third of a second before anything is seen.
import { type ComponentType, createElement, type FunctionComponent, lazy, useState } from "react";

/** ``fetch``: fetches it before it is shown. */
type Later<P> = FunctionComponent<P> & { fetch: () => Promise<void> };

export function later<P extends object>(load: () => Promise<ComponentType<P>>): Later<P> {
  let there: ComponentType<P> | null = null;
  const fetch = () =>
    load().then((made) => {
      there = made;
    });
  const Lazy = lazy(() => fetch().then(() => ({ default: there! })));
  // biome-ignore lint/correctness/noComponentHookFactories: it is called once for each, when the module is read
  const Shown = (props: P) => {
    // Which of the two it is stays for as long as it is shown.
    const [now] = useState(() => there);
    return now ? createElement(now, props) : createElement(Lazy as ComponentType<P>, props);
  };
  return Object.assign(Shown, { fetch });
}
