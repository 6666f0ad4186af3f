// A component in a file of its own, fetched when it is first shown or before. What is there already is shown at once:
// to wait for something that is there costs a third of a second before anything is seen.
import { type ComponentType, createElement, type FunctionComponent, lazy, useState } from "react";
import { Message } from "./Message";

/** Begin anew, if the server answers: without it a reload would leave nothing on the screen. */
export const beginAnew = () =>
  fetch(window.location.pathname, { method: "HEAD", cache: "no-store" }).then(
    (answer) => answer.ok && window.location.reload(),
    () => undefined,
  );

function Unfetched() {
  return (
    <Message
      title="This part could not be fetched"
      text="Reamer’s server does not answer, or another version took its place. What you typed is kept on this machine."
    >
      <button type="button" className="act" onClick={() => void beginAnew()}>
        Ask for it again
      </button>
    </Message>
  );
}

/** ``fetch``: fetches it before it is shown. */
type Later<P> = FunctionComponent<P> & { fetch: () => Promise<void> };

export function later<P extends object>(load: () => Promise<ComponentType<P>>): Later<P> {
  let there: ComponentType<P> | null = null;
  const fetch = () =>
    load().then((made) => {
      there = made;
    });
  const Lazy = lazy(() =>
    fetch().then(
      () => ({ default: there! }),
      () => ({ default: Unfetched as ComponentType<P> }),
    ),
  );
  // biome-ignore lint/correctness/noComponentHookFactories: it is called once for each, when the module is read
  const Shown = (props: P) => {
    // Which of the two it is stays for as long as it is shown.
    const [now] = useState(() => there);
    return now ? createElement(now, props) : createElement(Lazy as ComponentType<P>, props);
  };
  return Object.assign(Shown, { fetch });
}
