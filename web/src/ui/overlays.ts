/**
 * Where drawers and dialogs are put. In the body itself the library would lock scrolling with a
 * style of its own that the page's policy refuses; `base.css` locks it instead.
 */
export const overlays = () => document.getElementById("overlays") ?? document.body;
