/** Ctrl Z and Ctrl Shift Z, wherever something can be undone; typing keeps its own. */
import { useEffect } from "react";

export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  target.matches("input:not([type=checkbox], [type=radio], [type=range]), textarea, [contenteditable]");

export function useUndoKeys(undo: () => void, redo: () => void) {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (isTyping(event.target) || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z")
        return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [undo, redo]);
}
