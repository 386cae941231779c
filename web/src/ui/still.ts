/** A list that stays still under somebody's pointer: what would move it waits until the pointer has left or rests. */
import { useEffect, useRef, useState } from "react";

const RESTS_MS = 10_000;
const ANSWERS_MS = 3_000;

/** Whether somebody reaches into a list of something, and what its element has to hear for that.
 *
 * After a press it moves for a while: what was asked for is to be seen.
 */
export function useReach(of: string) {
  const [reach, setReach] = useState<string>();
  const rests = useRef<ReturnType<typeof setTimeout>>(undefined);
  const free = useRef(0);
  useEffect(() => () => clearTimeout(rests.current), []);
  const end = () => {
    clearTimeout(rests.current);
    setReach(undefined);
  };
  return {
    held: reach === of,
    reaching: {
      onPointerMove: () => {
        if (Date.now() < free.current) return;
        clearTimeout(rests.current);
        rests.current = setTimeout(end, RESTS_MS);
        setReach(of);
      },
      onPointerLeave: end,
      onClick: () => {
        free.current = Date.now() + ANSWERS_MS;
        end();
      },
    },
  };
}

/** A value as it was when it began to be held. */
export function useHeld<Value>(now: Value, held: boolean): Value {
  const [kept, setKept] = useState(now);
  if (!held && kept !== now) setKept(now);
  return held ? kept : now;
}
