import { Failure } from "@/features/frame/Failure";
import { EntryPage } from "@/features/postings/EntryPage";
import { WORDS } from "@/features/postings/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { entryOf, journalOf } from "@/server/services/posting/journalService";

export default async function Page({ params }: { params: Promise<{ number: string }> }) {
  const ws = await signedInWorkspace("analyst");
  try {
    const number = Number((await params).number);
    const caller = { client: "page" };
    const [schema, journal, entry] = await Promise.all([
      ws.shownSchema(),
      journalOf(ws, caller),
      Number.isSafeInteger(number) ? entryOf(ws, number, caller) : null,
    ]);
    if (!entry) return <Failure words={WORDS.theJournalHasNoEntry} />;
    const drafts = ws.objects.list("posting").map(({ id, name }) => ({ id, name }));
    return <EntryPage key={number} entry={entry} schema={schema} journal={journal.entries} drafts={drafts} />;
  } catch (error) {
    return <Failure words={error instanceof Error ? error.message : WORDS.theJournalCannotBeRead} />;
  }
}
