import { ruleSpecSchema } from "@/core/people/spec";
import { Failure } from "@/features/frame/Failure";
import { PeoplePage } from "@/features/people/PeoplePage";
import { signedInWorkspace } from "@/server/http/signedIn";

/** Accounts, rules on rows, and the log: the owner's. */
export default async function Page() {
  const ws = await signedInWorkspace("owner");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const rules = ws.objects.list("rule").flatMap(({ id, name, spec, revision }) => {
    const read = ruleSpecSchema.safeParse(spec);
    return read.success ? [{ id, name, revision, spec: read.data }] : [];
  });
  const people = ws.people.list().map(({ createdAt: _, ...person }) => person);
  const log = ws.people.logLines().map((line) => ({ ...line, at: line.at.toISOString() }));
  return <PeoplePage people={people} rules={rules} log={log} schema={schema} me={ws.signedIn?.id ?? null} />;
}
