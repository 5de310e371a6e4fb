import { DeletedItems } from "@/features/DeletedItems";
import { signedInWorkspace } from "@/server/http/signedIn";

export default async function Page() {
  const ws = await signedInWorkspace("analyst");
  const people = new Map(ws.people.list().map((p) => [p.id, p.name]));
  const items = ws.objects.inBin().map(({ id, kind, name, deletedAt, deletedBy }) => ({
    id,
    kind,
    name,
    at: deletedAt.toISOString(),
    by: deletedBy === null ? "" : (people.get(deletedBy) ?? ""),
  }));
  return <DeletedItems items={items} />;
}
