"use client";

import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { ask, sentenceOf } from "../ask";
import { WORDS } from "./words";

/** Which dashboard stands on everyone's desk: for an owner to choose. */
export function DeskDashboard({ chosen, dashboards }: { chosen: string | null; dashboards: { id: string; name: string }[] }) {
  const router = useRouter();
  const choose = (id: string) =>
    void ask("/api/desk/dashboard", { dashboard: id || null }).then(
      () => router.refresh(),
      (error) => toast.error(sentenceOf(error)),
    );
  return (
    <label className="flex items-center gap-2 pt-8 text-small text-soft">
      {WORDS.dashboardOnTheDesk}
      <select className="field w-56" value={chosen ?? ""} onChange={(e) => choose(e.target.value)}>
        <option value="">{WORDS.noDashboard}</option>
        {dashboards.map((d) => (
          <option key={d.id} value={d.id}>
            {d.name}
          </option>
        ))}
      </select>
    </label>
  );
}
