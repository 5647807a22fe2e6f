// The settings of a verb, in the tray: they appear with the verb, what they give is shown live,
// and they are taken or left.
import { at, attempt, focusView, foretold, join, live } from "./state";
import { Refused } from "./doc";
import type { Asks, Tries } from "./station";
import type { Verb } from "../verbs/verbs";

let open: { verb: Verb; act: Tries | Asks } | null = null;
let timer = 0, touched = false; // whether somebody wrote into the open form

/** What a verb is called in the middle of a sentence or a list. */
export const called = (v: Verb): string => v.says.replace(/ …$/, "");

const tray = (): HTMLElement => document.getElementById("tray")!;
const shown = (): HTMLElement | null => at.form ? tray().querySelector(`[data-form~="${at.form}"]`) : null;

/** What fields were set to stays when the tray is shown again; those of fresh forms are as they come. */
const kept = new Map<string, string>();
const keepable = "[data-form]:not([data-fresh])";

type Field = HTMLInputElement | HTMLSelectElement;

/** Shows the form of a verb, and what it would give with the settings as they are. */
export async function openForm(verb: Verb, act: Tries | Asks): Promise<void> {
  closeForm();
  refresh(true);
  touched = false;
  open = { verb, act };
  at.form = verb.name;
  if ("tries" in act) {
    act.before?.();
    await attemptIt();
    return;
  }
  const first = shown()?.querySelector<HTMLElement>("input, select, textarea");
  first?.focus();
  if (first instanceof HTMLInputElement) first.select();
}

async function attemptIt(): Promise<void> {
  const act = open?.act;
  if (!act || !("tries" in act)) return;
  const own = open, says = (what: string): void => { for (const el of tray().querySelectorAll<HTMLElement>("[data-formsays]")) el.textContent = what; };
  says("");
  try {
    const [kind, params] = act.tries();
    await live.start(kind, params, act.steps ?? false);
  } catch (e) {
    if (!(e instanceof Refused) || open !== own || !shown()) { if (open === own) closeForm(); throw e; }
    live.drop();
    says(`${e.message[0]!.toUpperCase()}${e.message.slice(1)}`); // other settings may do
  }
}

/** Takes the form that is open; false if none is, or if it is a ghost that is taken. */
export async function takeForm(): Promise<boolean> {
  if (!open || !("asks" in open.act)) return false;
  const was = open;
  await (was.act as Asks).asks();
  if (open === was) closeForm();
  return true;
}

/** What was tried is taken or gone. */
export function closeForm(): void {
  clearTimeout(timer);
  const within = shown()?.contains(document.activeElement);
  open = null;
  if (at.form) at.form = "";
  if (within) focusView();
}

/** Lets go of what is tried, and of the form with it. */
export function leaveForm(): void { live.drop(); closeForm(); }

/** Whether an open form is of something that is tried. */
export const tried = (): boolean => open !== null && "tries" in open.act;

/** Shows the form that is open in place of what the tray says otherwise. */
export function showForm(): void {
  for (const w of [live, join]) w.watch();
  const own = at.form;
  for (const el of tray().querySelectorAll<HTMLElement>("[data-form]")) el.hidden = !el.dataset.form!.split(" ").includes(own);
  for (const el of tray().querySelectorAll<HTMLElement>("[data-formname]")) el.textContent = open ? called(open.verb) : "";
  for (const el of tray().querySelectorAll<HTMLElement>("[data-formwhat]")) el.textContent = open?.verb.what ?? "";
  for (const el of tray().querySelectorAll<HTMLElement>("[data-only]")) el.hidden = el.dataset.only !== own; // of several verbs that share a form
  const rest = shown() !== null || live.active || join.active;
  for (const el of tray().querySelectorAll<HTMLElement>("[data-rest]")) el.hidden = rest;
  document.body.dataset.form = own;
}

/** Fields of fresh forms say what is so, whatever was written there and not taken; those of the open one are left alone. */
function refresh(all: boolean): void {
  for (const el of tray().querySelectorAll<HTMLElement>("[data-form][data-fresh]")) {
    if (!all && el === shown()) continue;
    for (const f of el.querySelectorAll<Field>("input, select")) {
      if (f instanceof HTMLSelectElement) { const i = [...f.options].findIndex((o) => o.defaultSelected); if (i >= 0) f.selectedIndex = i; } else f.value = f.defaultValue;
    }
  }
}

/** What fields were set to before. */
function restore(): void {
  for (const [id, v] of kept) {
    const el = document.getElementById(id) as Field | null;
    if (el?.closest(keepable)) el.value = v;
  }
}

export function listenForms(): void {
  for (const kind of ["input", "change"] as const) document.addEventListener(kind, (e) => {
    const t = e.target as Field;
    if (!t.closest?.("#tray [data-form]")) return;
    touched = true;
    if (t.id && t.closest(keepable)) kept.set(t.id, t.value);
    if (!tried() || (kind === "input" && t.matches("[data-num]"))) return; // what is typed counts when it is done
    clearTimeout(timer);
    timer = window.setTimeout(() => void attempt(attemptIt), 90);
  });
  document.addEventListener("submit", (e) => { if ((e.target as HTMLElement).closest("#tray [data-form]")) { e.preventDefault(); void attempt(takeForm); } });
}

/** The tray was shown anew. */
export function formsShown(): void { restore(); refresh(!touched); showForm(); foretold.drop(); }
