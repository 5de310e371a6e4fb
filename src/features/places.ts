import type { ObjectKind } from "@/server/catalogue/catalogue";

/** What has a page of its own. */
export type PlaceKind = ObjectKind | "table";

const PLACES: Partial<Record<PlaceKind, (id: string) => string>> = {
  table: (name) => `/tables/${encodeURIComponent(name)}`,
  query: (id) => `/queries/${id}`,
  pivot: (id) => `/pivots/${id}`,
  chart: (id) => `/charts/${id}`,
  dashboard: (id) => `/dashboards/${id}`,
  report: (id) => `/reports/${id}`,
  letter: (id) => `/letters/${id}`,
  page: (id) => `/pages/${id}`,
  posting: (id) => `/postings/${id}`,
  schedule: () => "/schedules",
};

/** Where an object or a table opens. */
export const placeOf = (kind: PlaceKind, id: string): string => PLACES[kind]?.(id) ?? "/";

/** Whether what is of a kind opens on a page. */
export const hasPlace = (kind: string): kind is PlaceKind => Object.hasOwn(PLACES, kind);
