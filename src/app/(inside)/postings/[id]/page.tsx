import { postingSpecSchema } from "@/core/posting/spec";
import { Failure } from "@/features/frame/Failure";
import { PostingPage } from "@/features/postings/PostingPage";
import { WORDS } from "@/features/postings/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { openOnPage } from "@/server/services/desk/visits";
import { journalOf } from "@/server/services/posting/journalService";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace("analyst");
  const saved = openOnPage(ws, (await params).id, "posting");
  if (!saved) return <Failure words={WORDS.thisDraftDoesNotExist} />;
  const spec = postingSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  try {
    const [schema, journal] = await Promise.all([ws.shownSchema(), journalOf(ws, { client: "page" })]);
    const named = (kind: "posting" | "query") => ws.objects.list(kind).map(({ id, name }) => ({ id, name }));
    const draft = { id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision };
    return <PostingPage key={saved.id} saved={draft} schema={schema} journal={journal.entries} drafts={named("posting")} queries={named("query")} />;
  } catch (error) {
    return <Failure words={error instanceof Error ? error.message : WORDS.theDatabaseCannotBeRead} />;
  }
}
