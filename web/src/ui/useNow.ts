import { useEffect, useState } from "react";

/** The time, ticking. */
export function useNow(every_ms = 1000): Date {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => {
      setNow(new Date());
    }, every_ms);
    return () => {
      clearInterval(timer);
    };
  }, [every_ms]);
  return now;
}
