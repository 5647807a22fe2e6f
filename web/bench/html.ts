// What is shown beside the views: templates written here, whose values can be nothing but text,
// and fragments that our server rendered.
import htmx from "htmx.org";
import { html, nothing, render, type TemplateResult } from "lit-html";

export { html, nothing };
export type Markup = TemplateResult;

/** Shows something in place of what an element held. */
export function show(el: Element, what: Markup | string): void {
  const fresh = document.createDocumentFragment();
  render(what, fresh);
  el.replaceChildren(fresh);
}

/** Shows something in an element that nothing else fills; what is the same stays the same elements. */
export function keep(el: HTMLElement, what: Markup): void { render(what, el); }

/** Shows a fragment that our server rendered; what is the same stays the same elements, so
 * that focus is kept and no click falls between two of them. */
export function morph(el: Element, fragment: string, swap: "innerMorph" | "outerMorph" = "innerMorph"): void { void htmx.swap({ target: el, text: fragment, swap }); }
