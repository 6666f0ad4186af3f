// A row of tabs and its panel: one tab is chosen by pointer, or by arrow keys, Home and End where one has the focus.
import type { ReactNode, Ref } from "react";

export interface Tab<K extends string> {
  key: K;
  name: string;
  title?: string;
  /** What stands beside its name, such as how many wait there. */
  aside?: string;
}

const tabId = (group: string, key: string) => `${group}-${key}`.replace(/\W+/g, "-");

export function Tabs<K extends string>({
  group,
  label,
  tabs,
  at,
  onPick,
  className = "",
}: {
  /** What ties the row to its panel. */
  group: string;
  label: string;
  tabs: readonly Tab<K>[];
  at: K;
  onPick: (key: K) => void;
  className?: string;
}) {
  const here = tabs.findIndex((t) => t.key === at);
  const to = (i: number) => {
    const next = tabs[(i + tabs.length) % tabs.length]!;
    onPick(next.key);
    document.getElementById(tabId(group, next.key))?.focus();
  };
  return (
    <div
      role="tablist"
      aria-label={label}
      className={`tab-row ${className}`}
      onKeyDown={(e) => {
        const where = { ArrowRight: here + 1, ArrowLeft: here - 1, Home: 0, End: tabs.length - 1 }[e.key];
        if (where === undefined || e.altKey || e.ctrlKey || e.metaKey || e.shiftKey) return;
        e.preventDefault();
        e.stopPropagation();
        to(where);
      }}
    >
      {tabs.map((t) => (
        <button
          key={t.key}
          id={tabId(group, t.key)}
          type="button"
          role="tab"
          aria-selected={at === t.key}
          aria-controls={`${group}-panel`}
          tabIndex={at === t.key ? 0 : -1}
          title={t.title}
          onClick={(e) => {
            onPick(t.key);
            // Whoever points goes on with the keys of what is shown; whoever came by keys stays on the row.
            if (e.detail > 0) document.getElementById(`${group}-panel`)?.focus({ preventScroll: true });
          }}
          className={`panel-tab ${at === t.key ? "on" : "quiet"}`}
        >
          {t.name}
          {t.aside && <b> · {t.aside}</b>}
        </button>
      ))}
    </div>
  );
}

/** What a row of tabs shows. */
export function TabPanel({
  group,
  at,
  className = "",
  testId,
  ref,
  children,
}: {
  group: string;
  at: string;
  className?: string;
  testId?: string;
  ref?: Ref<HTMLDivElement>;
  children: ReactNode;
}) {
  return (
    <div
      ref={ref}
      id={`${group}-panel`}
      role="tabpanel"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a panel is moved by keys, and takes the focus from its tab
      tabIndex={0}
      aria-labelledby={tabId(group, at)}
      className={`outline-none ${className}`}
      data-testid={testId}
    >
      {children}
    </div>
  );
}
