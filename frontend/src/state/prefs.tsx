// What belongs to this person's screen, not to a plan: units, theme, the caution read.
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from "react";
import type { UnitSystem } from "../say";

type Theme = "day" | "headlamp";
interface Prefs {
  units: UnitSystem;
  theme: Theme;
  cautionRead: boolean;
  flipUnits: () => void;
  flipTheme: () => void;
  readCaution: () => void;
}

const Context = createContext<Prefs | null>(null);

function kept<T extends string>(key: string, choices: readonly T[]): T {
  const value = localStorage.getItem(key);
  return choices.find((c) => c === value) ?? choices[0]!;
}

export function PrefsProvider({ children }: { children: ReactNode }) {
  const [units, setUnits] = useState<UnitSystem>(() => kept("units", ["metric", "us"] as const));
  const [theme, setTheme] = useState<Theme>(() => kept("theme", ["day", "headlamp"] as const));
  const [caution, setCaution] = useState(() => kept("caution", ["unread", "read"] as const));
  useEffect(() => localStorage.setItem("units", units), [units]);
  useEffect(() => localStorage.setItem("caution", caution), [caution]);
  useEffect(() => {
    localStorage.setItem("theme", theme);
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  // Paper is white: what is printed is printed by day.
  useEffect(() => {
    const set = (next: Theme) => () => {
      document.documentElement.dataset.theme = next;
    };
    const [day, back] = [set("day"), set(theme)];
    window.addEventListener("beforeprint", day);
    window.addEventListener("afterprint", back);
    return () => {
      window.removeEventListener("beforeprint", day);
      window.removeEventListener("afterprint", back);
    };
  }, [theme]);
  const value = useMemo<Prefs>(
    () => ({
      units,
      theme,
      cautionRead: caution === "read",
      flipUnits: () => setUnits((u) => (u === "metric" ? "us" : "metric")),
      flipTheme: () => setTheme((t) => (t === "day" ? "headlamp" : "day")),
      readCaution: () => setCaution("read"),
    }),
    [units, theme, caution],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function usePrefs(): Prefs {
  const prefs = useContext(Context);
  if (!prefs) throw new Error("usePrefs outside PrefsProvider");
  return prefs;
}
