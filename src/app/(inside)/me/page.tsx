import { redirect } from "next/navigation";
import { MePage } from "@/features/people/MePage";
import { signedInWorkspace } from "@/server/http/signedIn";

export default async function Page() {
  const ws = await signedInWorkspace();
  const { signedIn } = ws;
  if (!signedIn) redirect("/people");
  const schema = await ws.shownSchema().catch(() => null);
  const sessions = ws.people.sessionsOf(signedIn.id).map(({ createdAt, seenAt }) => ({ createdAt: createdAt.toISOString(), seenAt: seenAt.toISOString() }));
  return (
    <MePage
      person={{ name: signedIn.name, login: signedIn.login, role: signedIn.role, knownAs: ws.knownAs }}
      sessions={sessions}
      partial={schema?.tables.filter((t) => t.partial).map((t) => t.label) ?? []}
    />
  );
}
