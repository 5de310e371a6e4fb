import { Failure } from "@/features/frame/Failure";
import { LinkPage } from "@/features/tables/LinkPage";
import { WORDS } from "@/features/tables/words";
import { signedInWorkspace } from "@/server/http/signedIn";

/** A link: what it compares, and how many rows of either side it finds. */
export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const id = decodeURIComponent((await params).id);
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const link = schema.links.find((l) => l.id === id);
  return link ? <LinkPage key={id} link={link} schema={schema} /> : <Failure words={WORDS.linkIsGone} />;
}
