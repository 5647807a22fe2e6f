// A station as the bench knows it; each has a folder of its own in web/station.
import type { VerbsOf } from "../verbs/verbs";

/** What a click picks. */
export type Kind = "points" | "edges" | "faces" | "shells";

/** Done at once. */
export type Does = () => Promise<unknown>;

type Edit = [kind: string, params: object];

/** An edit that is made at once, and foretold while its button is pointed at. */
export interface Edits { edits: () => Edit; after?: () => void }

/** An edit that is shown first with its cost, by the fields of its form. */
export interface Tries { tries: () => Edit; steps?: boolean; before?: () => void }

/** Done when its form is taken. */
export interface Asks { asks: Does }

export type Act = Does | Edits | Tries | Asks;

export interface Station<S extends keyof VerbsOf> {
  /** Of what the tray shows verbs, what is picked first. */
  shows: string[];
  /** What the mouse does here, in a line. */
  help: string;
  /** What a click can pick here, first what it does unless somebody chose another. */
  kinds: Kind[];
  /** Its verbs, by the names of their table. */
  verbs: Record<VerbsOf[S], Act>;
  /** What buttons within its forms do, by the name they say as data-do. */
  inner?: Record<string, Does>;
  /** What an element does that has an attribute data-…, by its name; it is told the value. */
  clicks?: Record<string, (value: string, el: HTMLElement) => void>;
  /** What happens when a field was changed, or while it changes, by its id. */
  changes?: Record<string, (el: HTMLInputElement) => void>;
  inputs?: Record<string, (el: HTMLInputElement) => void>;
  /** Its tray stands there anew. */
  shown?: () => void | Promise<void>;
  /** Somebody comes here from another. */
  entered?: () => void;
  /** Lets go of something of its own before the chosen part is let go of; true if that was all there was to do. */
  drop?: () => boolean;
  /** Somebody goes elsewhere. */
  left?: () => void;
}

export type AnyStation = Omit<Station<"">, "verbs"> & { verbs: Record<string, Act> };

/** All of them by name: the bench fills this when it starts, so that no station needs another. */
export const stations: Record<string, AnyStation> = {};

/** What can be done at all stations, and what buttons do that stand in lists, dialogs and forms; filled likewise. */
export const common: { verbs: Record<string, Act>; inner: Record<string, Does> } = { verbs: {}, inner: {} };
