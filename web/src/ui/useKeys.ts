/** Keys that work everywhere on a screen, but not while somebody types. */
import { useEffect } from "react";

const TYPING = new Set(["INPUT", "TEXTAREA", "SELECT"]);

/** Whether an event comes from where letters are typed. */
export const isTyping = (event: KeyboardEvent) =>
  TYPING.has((event.target as HTMLElement).tagName) || event.ctrlKey || event.metaKey || event.altKey;

export function useKeys(onKey: (key: string) => void) {
  useEffect(() => {
    const hear = (event: KeyboardEvent) => {
      if (!isTyping(event)) onKey(event.key);
    };
    window.addEventListener("keydown", hear);
    return () => window.removeEventListener("keydown", hear);
  }, [onKey]);
}
