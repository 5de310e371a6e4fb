"use client";

import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { ask, sentenceOf } from "./ask";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";
import { PageHeading } from "./workspace/PageHeading";

type Item = { id: string; kind: string; name: string; at: string; by: string };

/** What was deleted and can be restored. */
export function DeletedItems({ items }: { items: Item[] }) {
  const router = useRouter();
  const { locale, zone } = useLocale();
  const moment = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone });
  async function restore({ id, name }: Item): Promise<void> {
    try {
      await ask("/api/bin", { id });
      toast(COMMON.restored(name));
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto max-w-3xl px-8 py-6">
        <PageHeading name={COMMON.deletedItems} className="pb-1" />
        <p className="pb-4 text-soft">{items.length === 0 ? COMMON.nothingDeleted : COMMON.deletedItemsHelp}</p>
        <ul>
          {items.map((item) => (
            <li key={item.id} className="flex items-baseline justify-between gap-4 border-t border-rule py-3">
              <span className="min-w-0">
                <span className="text-brief">{item.name}</span>
                <span className="block text-small text-soft">{COMMON.deletedBy(item.kind, moment.format(new Date(item.at)), item.by)}</span>
              </span>
              <button type="button" className="button" onClick={() => void restore(item)}>
                {COMMON.restore}
              </button>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}
