// Before and after: two states of a map, or of two revisions of a model, in the same views.
import { readChanges } from "../bench/blocks";
import { ask } from "../bench/doc";
import { times } from "../bench/units";
import { Pair, type Told } from "./pair";
import { listenChoice, listenShow, partOf, sides, trouble } from "./sides";

const body = document.body;
const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;

const docs = sides();

const became = ["lies where it lay", "lies otherwise", "was laid on the sheet", "was taken off"];

/** What is said of a face. */
function words(p: Told, same: boolean): string {
  if (!p) return "point at the model or the sheet";
  const said = (of: number): string => {
    const d = docs[of]!, l = d.layout, s = d.meta.shells[l.faceShell[p.face]!];
    return s ? `stretch ${times(l.angular[p.face]!)}, ${s.density.toFixed(0)} px/${d.meta.unit}, grain ${l.grain[p.face]! < 0 ? "none" : `${l.grain[p.face]!.toFixed(1)}°`}` : "not on the sheet";
  };
  const d = docs[p.of]!, name = d.meta.parts[d.layout.facePart[p.face]!]?.name ?? "–";
  if (!same) return `${name}, ${["before", "after"][p.of]}: ${said(p.of)}`;
  const was = said(0), is = said(1);
  return `${name}, face ${p.face} ${became[docs[1].changes?.[p.face] ?? 0]}: ${was === is ? is : `${was} → ${is}`}`;
}

async function start(): Promise<void> {
  const [block] = await Promise.all([ask(`/documents/${docs[1].id}/compare.bin?${body.dataset.query}`).then((r) => r.arrayBuffer()), ...docs.map((d) => d.load())]);
  const [before, after] = readChanges(block), same = after.length > 0;
  docs[0].changes = before;
  docs[1].changes = after;
  const pair = new Pair(docs, same);
  listenShow(pair, same ? [] : ["changes"]);
  pair.onPoint = (p) => { $("readout").textContent = words(p, same); };
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-face], [data-face-before]")) b.onclick = () => {
    const of = b.dataset.face === undefined ? 0 : 1;
    pair.show(of, partOf(docs[of]!, Number(b.dataset.face ?? b.dataset.faceBefore)));
  };
  pair.onClick = (p) => pair.mark(p?.of ?? 1, p ? partOf(docs[p.of]!, p.face) : []);
  body.dataset.ready = "yes";
}

listenChoice();
start().catch((e: unknown) => trouble(e, "The models cannot be shown; reload the page."));
