// Which state of the station is in view: 0, or 1 for the last person where there are two.
import { createContext, useContext } from "react";

export const WhichContext = createContext<{ which: number; setWhich: (which: number) => void }>({
  which: 0,
  setWhich: () => undefined,
});

export function useWhich(): number {
  return useContext(WhichContext).which;
}
