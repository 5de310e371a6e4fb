import { Failure } from "@/features/frame/Failure";
import { PostingsHome } from "@/features/postings/PostingsHome";
import { WORDS } from "@/features/postings/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { journalOf, journalPeople } from "@/server/services/posting/journalService";

export default async function Page() {
  const ws = await signedInWorkspace("analyst");
  try {
    const caller = { client: "page" };
    const [schema, journal, people] = await Promise.all([ws.shownSchema(), journalOf(ws, caller), journalPeople(ws, caller)]);
    const named = (kind: "posting" | "query") => ws.objects.list(kind).map(({ id, name }) => ({ id, name }));
    return <PostingsHome schema={schema} journal={journal} people={people} drafts={named("posting")} queries={named("query")} />;
  } catch (error) {
    return <Failure words={error instanceof Error ? error.message : WORDS.theJournalCannotBeRead} />;
  }
}
