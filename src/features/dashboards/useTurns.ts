import { useEffect, useState } from "react";
import { useLocale } from "../workspace/locale";

/**
 * How often a dashboard has been asked anew, and when it was read last.
 * @param minutes after how many minutes it asks by itself; null for never
 * @param asked what a change of which is a reading too
 */
export function useTurns(minutes: number | null, asked: unknown) {
  const locale = useLocale();
  const [turn, setTurn] = useState(0);
  const [readAt, setReadAt] = useState("");
  useEffect(() => {
    setReadAt(new Intl.DateTimeFormat(locale.locale, { timeStyle: "short", timeZone: locale.zone }).format(new Date()));
  }, [turn, asked, locale]);
  useEffect(() => {
    if (minutes === null) return;
    const timer = setInterval(() => setTurn((n) => n + 1), minutes * 60_000);
    return () => clearInterval(timer);
  }, [minutes]);
  return { turn, readAt, again: () => setTurn((n) => n + 1) };
}
