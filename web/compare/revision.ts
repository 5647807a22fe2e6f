// What the next revision of a model keeps of its map, on both models, before it is taken.
import { ask, lines, Refused } from "../bench/doc";
import { html, show } from "../bench/html";
import { Pair, type Told } from "./pair";
import { listenChoice, listenShow, partOf, sides, trouble } from "./sides";

interface Part { name: string; now: number; was: number; faces: [number, number, number, number] }
interface Outlook { after: string; before: string; faces: [number, number, number, number]; moved: number; part: number[]; parts: Part[] }

const body = document.body;
const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
const docs = sides();
const query = location.search;
const fates = ["stays", "otherwise", "fresh", "gone"];
const words = ["stays where it lay", "keeps its places, moved or cut otherwise", "is laid anew", "is no more"];

const count = (n: number): string => n.toLocaleString("en").replaceAll(",", "\u202f");

/** What is drawn of the fates: those of the sheet before and of the one after. */
const drawn = (digits: string): Uint8Array => Uint8Array.from(digits, Number);

function tell(look: Outlook): void {
  const [stay, adapted, anew, gone] = look.faces, how = ([[look.moved, "moved"], [adapted - look.moved, "cut otherwise"]] as const).filter(([n]) => n > 0).map(([n, what]) => `${count(n)} ${what}`);
  const says = [`${count(stay)} faces stay`, `${count(adapted)} are adapted${how.length ? `: ${how.join(", ")}` : ""}`, `${count(anew)} are laid anew`, `${count(gone)} are gone`];
  show($("fates"), html`${says.map((s, i) => html`<li><i class="became ${fates[i]!}"></i>${s}</li>`)}`);
  const changed = look.parts.filter((p) => p.faces[1] + p.faces[2] + p.faces[3] > 0), cell = (n: number): string => (n ? count(n) : "");
  show(document.querySelector("#parts tbody")!, html`${changed.map((p) => html`<tr><td><button data-now="${p.now}" data-was="${p.was}">${p.name}</button>${p.now < 0 ? html` <i>gone</i>` : p.was < 0 ? html` <i>new</i>` : ""}</td>${p.faces.map((n) => html`<td>${cell(n)}</td>`)}</tr>`)}`);
  $("progress").textContent = changed.length ? `${count(changed.length)} parts differ, ${count(look.parts.length - changed.length)} are as they were.` : "Nothing differs.";
  for (const id of ["fates", "sheets", "parts"]) $(id).hidden = id === "parts" && changed.length === 0;
  $<HTMLButtonElement>("take").disabled = false;
  body.dataset.stay = String(stay);
}

async function foresee(): Promise<Outlook> {
  let look: Outlook | null = null;
  await lines(await ask(`/documents/${docs[1].id}/revision/outlook${query}`), (m: { what?: string; done?: number; error?: string; outlook?: Outlook }) => {
    if (m.error) throw new Refused(m.error, 422);
    if (m.what) $("progress").textContent = `${m.what}, ${Math.round(100 * m.done!)} %`;
    look = m.outlook ?? look;
  });
  if (!look) throw new Refused("It stopped before it was done; reload the page.", 500);
  return look;
}

async function start(): Promise<void> {
  const [look] = await Promise.all([foresee(), ...docs.map((d) => d.load())]);
  [docs[0].changes, docs[1].changes] = [drawn(look.before), drawn(look.after)];
  docs[1].layout.facePart = Int32Array.from(look.part); // as they will be read
  const pair = new Pair(docs, false);
  listenShow(pair);
  tell(look);
  const named = (of: number, face: number): string => {
    const part = docs[of]!.layout.facePart[face]!;
    return (of ? look.parts[part]?.name : docs[0].meta.parts[part]?.name) ?? "–";
  };
  pair.onPoint = (p: Told) => { $("readout").textContent = p ? `${named(p.of, p.face)}, face ${p.face} of the model ${p.of ? "after" : "before"}: ${words[docs[p.of]!.changes![p.face]!]}` : "point at one of the models"; };
  for (const b of document.querySelectorAll<HTMLButtonElement>("#parts button")) b.onclick = () => {
    const [was, now] = [Number(b.dataset.was), Number(b.dataset.now)], of = now < 0 ? 0 : 1;
    pair.show(of, partOf(docs[of]!, of ? now : was));
  };
  pair.onClick = (p) => pair.mark(p?.of ?? 1, p ? partOf(docs[p.of]!, p.face) : []);
  body.dataset.ready = "yes";
}

function failed(e: unknown): void {
  trouble(e, "Something went wrong in the page; reload it. Nothing was done yet.");
  $("progress").hidden = true;
}

$("take").onclick = () => {
  $<HTMLButtonElement>("take").disabled = true;
  ask(`/documents/${docs[1].id}/revision${query}`, {}).then((r) => r.json()).then((a: { url: string }) => location.assign(a.url)).catch((e: unknown) => { $<HTMLButtonElement>("take").disabled = false; failed(e); });
};
listenChoice();
start().catch(failed);
