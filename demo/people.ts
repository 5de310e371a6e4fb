import type { RuleSpec } from "../src/core/people/spec";
import { emptyQuery } from "../src/core/query/empty";
import type { Join, QuerySpec } from "../src/core/query/spec";
import type { Catalogue } from "../src/server/catalogue/catalogue";
import { People } from "../src/server/catalogue/people";

/** The company's people, invented; they come in by a click and have no passwords. A desk officer is known by the crew's number. */
const PEOPLE = [
  { id: "demo-owner", login: "ingrid", name: "Ingrid Vale", role: "owner" },
  { id: "demo-analyst", login: "tomas", name: "Tomas Reed", role: "analyst" },
  { id: "demo-analyst-2", login: "mirela", name: "Mirela Strand", role: "analyst" },
  { id: "demo-una", login: "una", name: "Una Holm", role: "viewer", knownAs: "129" },
  { id: "demo-jorn", login: "jorn", name: "Jorn Crane", role: "viewer", knownAs: "132" },
] as const;

/** What the freight office shows to those who look. */
const FOR_EVERYONE = ["morning-view", "islands-and-quarters", "months-by-trade", "freight-statement", "freight-by-shipper", "find-consignment"];

const officer = (join: string): QuerySpec["conditions"] => [
  { id: "own", left: { kind: "field", join, column: "desk_officer_id" }, operator: "is", values: [{ kind: "person" }] },
];
const toShipper = (link: string): Join[] => [{ id: "shipper", from: "", link, toward: "b", way: "keep" }];
const rule = (query: QuerySpec): RuleSpec => ({ version: 1, who: { kind: "role", role: "viewer" }, query });

/** A desk officer sees the shippers of their own desk, and what belongs to them. */
const RULES: [string, RuleSpec][] = [
  ["own shippers", rule({ ...emptyQuery("shipper"), conditions: officer("") })],
  ["own consignments", rule({ ...emptyQuery("consignment"), joins: toShipper("consignment.shipper_id"), conditions: officer("shipper") })],
  ["own entries", rule({ ...emptyQuery("account_entry"), joins: toShipper("account_entry.shipper_id"), conditions: officer("shipper") })],
];

/** The accounts, shares and rules on rows that the demo company opens with. */
export async function saveDemoPeople(catalogue: Catalogue): Promise<void> {
  const people = new People(catalogue.db, () => new Date());
  for (const person of PEOPLE) await people.create({ ...person, password: null });
  for (const object of catalogue.list()) if (!["derived", "posting"].includes(object.kind)) catalogue.give(object.id, "demo-analyst");
  for (const object of FOR_EVERYONE) people.share(object, "", "see");
  people.share("statement-of-account", "demo-una", "see");
  people.share("freight-lodged", "demo-analyst-2", "edit");
  for (const [name, spec] of RULES) catalogue.create("rule", name, spec, name.replace(" ", "-"));
}
