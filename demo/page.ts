import type { PageSpec } from "../src/core/page/spec";
import { emptyQuery } from "../src/core/query/empty";

const field = (column: string) => ({ kind: "field" as const, join: "", column });

/** A page on which shippers find their consignments: no weights of others' desks, no charges. */
export const findConsignment = (query: string): PageSpec => ({
  version: 1,
  title: "Find a consignment",
  intro: "Consignments lodged with Brindle Sound Ferries from October 2025 to September 2026. All of it is invented.",
  subject: {
    kind: "search",
    query,
    fields: [
      { kind: "column", column: "waybill", label: "Waybill", input: "typed", operators: ["contains", "beginsWith", "is"] },
      { kind: "column", column: "shipper", label: "Shipper", input: "choice", operators: [] },
      { kind: "column", column: "status", label: "Status", input: "several", operators: [] },
      { kind: "column", column: "lodged", label: "Lodged", input: "range", operators: [] },
    ],
    columns: ["waybill", "lodged", "shipper", "commodity", "vessel", "status"],
    perPage: 20,
    sortable: true,
    atOnce: true,
    details: {
      columns: ["waybill_no", "lodged_on", "collect_from", "status"],
      panels: [
        {
          id: "surcharges",
          title: "Surcharges",
          match: { kind: "link", step: { link: "surcharge.consignment_id", toward: "a" } },
          query: { ...emptyQuery("surcharge"), columns: [{ id: "kind", value: field("kind") }] },
          first: 10,
          hideEmpty: true,
        },
      ],
    },
    changes: { roles: ["analyst", "viewer"], columns: ["collect_from"], remove: false },
  },
  open: true,
  ends: null,
  embed: [],
});
