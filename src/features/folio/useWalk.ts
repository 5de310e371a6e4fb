import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { sentenceOf } from "../ask";
import { findWalk, folioAt, type Walk } from "./walk";

/** The walk that a folio was opened from, and the way to its other rows; Alt with an arrow leads to the row before or after. */
export function useWalk(table: string, walkId: string, at: number | null) {
  const router = useRouter();
  const [walk, setWalk] = useState<Walk | null>(null);
  useEffect(() => setWalk(findWalk(walkId)), [walkId]);

  async function go(place: number): Promise<void> {
    if (!walk) return;
    const to = await folioAt(table, walk, walkId, place).catch((error) => void toast.error(sentenceOf(error)));
    if (to) router.push(to);
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!event.altKey || at === null || !walk) return;
      if (event.key === "ArrowLeft" && at > 0) void go(at - 1);
      else if (event.key === "ArrowRight" && at < walk.rows - 1) void go(at + 1);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  return { walk, go };
}
