// Whether the window is narrow: then strip and findings fold into drawers.
import { useSyncExternalStore } from "react";

const QUERY = window.matchMedia("screen and (max-width: 1199px)");

export function useNarrow(): boolean {
  return useSyncExternalStore(
    (tell) => {
      QUERY.addEventListener("change", tell);
      return () => QUERY.removeEventListener("change", tell);
    },
    () => QUERY.matches,
  );
}
