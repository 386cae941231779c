/** The time, which goes on by itself: for what counts down. */
import { useEffect, useState } from "react";

export function useNow(every_ms: number): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), every_ms);
    return () => clearInterval(timer);
  }, [every_ms]);
  return now;
}
