// A station as the bench knows it; each has a folder of its own in web/station.

export interface Station {
  /** What mouse and keys do here, in a line. */
  help: string;
  /** What can be done, by the name that buttons say as data-do. */
  verbs: Record<string, () => Promise<unknown>>;
  /** Keys that mean something else here than elsewhere. */
  keys?: Record<string, string>;
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

/** All of them by name: the bench fills this when it starts, so that no station needs another. */
export const stations: Record<string, Station> = {};
