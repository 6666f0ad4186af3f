// The card on a phone: one page a station, ticks kept on the device. Without it the card reads whole, as one scroll.
import "./card.css";
import { noting } from "./noted";

const root = document.documentElement;
const id = document.body.dataset.card ?? "";
const pages = [...document.querySelectorAll<HTMLElement>("[data-page]")];
const strip = document.getElementById("pages") as HTMLElement;

/** What is kept on the device, or null where nothing can be. */
function store(): Storage | null {
  try {
    const probe = `${id} probe`;
    localStorage.setItem(probe, "1");
    localStorage.removeItem(probe);
    return localStorage;
  } catch {
    return null;
  }
}
const kept = store();
const KEY = `reamer card ${id}`;

function read(): Record<string, boolean> {
  try {
    const data: unknown = JSON.parse(kept?.getItem(KEY) ?? "{}");
    return typeof data === "object" && data !== null ? (data as Record<string, boolean>) : {};
  } catch {
    return {};
  }
}
const ticks = read();

function write() {
  try {
    kept?.setItem(KEY, JSON.stringify(ticks));
  } catch {
    unkept();
  }
}

function unkept() {
  document.getElementById("unkept")?.removeAttribute("hidden");
}

/** How many acts of each page are ticked, on the page and in the overview. */
function count() {
  for (const page of pages) {
    const all = [...page.querySelectorAll<HTMLInputElement>("input[data-tick]")];
    if (all.length === 0) continue;
    const done = all.filter((x) => x.checked).length;
    const said = done === all.length ? "all acts ticked" : `${done} of ${all.length} acts ticked`;
    for (const where of document.querySelectorAll(`[data-done="${CSS.escape(page.id)}"]`)) where.textContent = said;
  }
}

for (const box of document.querySelectorAll<HTMLInputElement>("input[data-tick]")) {
  const key = box.dataset.tick ?? "";
  box.checked = ticks[key] === true;
  box.addEventListener("change", () => {
    if (box.checked) ticks[key] = true;
    else delete ticks[key];
    write();
    count();
  });
}
noting(kept, id, unkept);
if (kept) document.getElementById("unkept")?.setAttribute("hidden", "");

// One page at a time, side by side: swiped, stepped by the buttons, or by the arrow keys.
root.classList.add("paged");
for (const page of pages) page.tabIndex = 0;
let at = 0;
const where = document.getElementById("where") as HTMLElement;
const before = document.getElementById("before") as HTMLButtonElement;
const next = document.getElementById("next") as HTMLButtonElement;

// While a step glides to its page, what it glides past is not where the reader is: the next press counts from
// the page it glides to.
let gliding = 0;

function show(n: number, smooth = true) {
  at = Math.max(0, Math.min(pages.length - 1, n));
  const quick = !smooth || matchMedia("(prefers-reduced-motion: reduce)").matches;
  clearTimeout(gliding);
  gliding = window.setTimeout(arrived, 800);
  strip.scrollTo({ left: pages[at]!.offsetLeft, behavior: quick ? "instant" : "smooth" });
  tell();
}
function arrived() {
  clearTimeout(gliding);
  gliding = 0;
  at = Math.round(strip.scrollLeft / Math.max(1, strip.clientWidth));
  tell();
}
function tell() {
  where.textContent = pages[at]?.dataset.page ?? "";
  before.disabled = at === 0;
  next.disabled = at === pages.length - 1;
}
strip.addEventListener("scroll", () => gliding || arrived(), { passive: true });
strip.addEventListener("scrollend", arrived);
strip.addEventListener("touchstart", arrived, { passive: true });
before.addEventListener("click", () => show(at - 1));
next.addEventListener("click", () => show(at + 1));
window.addEventListener("resize", () => show(at, false));
window.addEventListener("keydown", (e) => {
  // In a field the arrows move within what is written, or from choice to choice.
  const writing = e.target instanceof Element && e.target.matches("input:not([type=checkbox]), select, textarea");
  if (!writing && (e.key === "ArrowLeft" || e.key === "ArrowRight")) {
    e.preventDefault();
    show(at + (e.key === "ArrowRight" ? 1 : -1));
  }
});
for (const link of document.querySelectorAll<HTMLAnchorElement>("a[data-to]")) {
  link.addEventListener("click", (e) => {
    e.preventDefault();
    show(pages.findIndex((p) => p.id === link.dataset.to));
  });
}
const theme = document.getElementById("theme") as HTMLButtonElement;
theme.addEventListener("click", () => {
  const dark = root.dataset.theme ? root.dataset.theme === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  root.dataset.theme = dark ? "day" : "dark";
});
for (const x of document.querySelectorAll<HTMLElement>("[data-scripted]")) x.hidden = false;
count();
show(0, false);
