/** Pictures in a list: those that are on the screen as it opens come at once, further ones when they are near. */

/** On the screen as a list opens: two rows of Home, one of the log. */
const AT_ONCE = 5;

/** How the picture at a place of a list, from 0, is loaded. Three hundred at once would be drawn by the server first. */
export const loadingAt = (place: number): "eager" | "lazy" => (place < AT_ONCE ? "eager" : "lazy");
