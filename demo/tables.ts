/**
 * The demo company's tables. INTEGER_SCALED(n) is read by the ledger as a decimal kept as a whole number of its
 * smallest unit: 12.34 is stored as 1234. To SQLite itself it is an integer column.
 */
export const TABLES = `
CREATE TABLE harbour (id INTEGER PRIMARY KEY, name TEXT NOT NULL, island TEXT NOT NULL, code TEXT NOT NULL UNIQUE);
CREATE TABLE route (id INTEGER PRIMARY KEY, name TEXT NOT NULL, from_harbour_id INTEGER NOT NULL REFERENCES harbour(id),
  to_harbour_id INTEGER NOT NULL REFERENCES harbour(id), sea_miles INTEGER_SCALED(1) NOT NULL, crossing_minutes INTEGER NOT NULL);
CREATE TABLE vessel (id INTEGER PRIMARY KEY, name TEXT NOT NULL, lane_metres INTEGER NOT NULL, passengers INTEGER NOT NULL, built_year INTEGER NOT NULL, in_service_from DATE NOT NULL);
CREATE TABLE crew (id INTEGER PRIMARY KEY, rank TEXT NOT NULL, first_name TEXT NOT NULL, middle_name TEXT, last_name TEXT NOT NULL,
  home_harbour_id INTEGER REFERENCES harbour(id), reports_to INTEGER REFERENCES crew(id), joined_on DATE NOT NULL);
CREATE TABLE sailing (id INTEGER PRIMARY KEY, route_id INTEGER NOT NULL REFERENCES route(id), vessel_id INTEGER REFERENCES vessel(id),
  departs_at TIMESTAMP NOT NULL, status TEXT NOT NULL, delay_minutes INTEGER NOT NULL, passengers INTEGER NOT NULL);
CREATE TABLE duty (id INTEGER PRIMARY KEY, sailing_id INTEGER NOT NULL REFERENCES sailing(id), crew_id INTEGER NOT NULL REFERENCES crew(id), role TEXT NOT NULL);
CREATE TABLE shipper (id INTEGER PRIMARY KEY, name TEXT NOT NULL, trade TEXT NOT NULL, island TEXT, desk_officer_id INTEGER REFERENCES crew(id),
  opened_on DATE NOT NULL, credit_limit INTEGER_SCALED(2) NOT NULL, on_hold BOOLEAN NOT NULL);
CREATE TABLE commodity (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, class TEXT NOT NULL, dangerous BOOLEAN NOT NULL);
CREATE TABLE consignment (id INTEGER PRIMARY KEY, waybill_no TEXT NOT NULL UNIQUE, lodged_on DATE NOT NULL, shipper_id INTEGER REFERENCES shipper(id),
  commodity_id INTEGER NOT NULL REFERENCES commodity(id), sailing_id INTEGER REFERENCES sailing(id), collect_from TEXT,
  weight INTEGER_SCALED(1) NOT NULL, freight_charge INTEGER_SCALED(2) NOT NULL, insurance INTEGER_SCALED(2), status TEXT NOT NULL);
CREATE TABLE surcharge (id INTEGER PRIMARY KEY, consignment_id INTEGER NOT NULL REFERENCES consignment(id), kind TEXT NOT NULL, amount INTEGER_SCALED(2) NOT NULL);
CREATE TABLE fare_sale (id INTEGER PRIMARY KEY, sailing_id INTEGER NOT NULL REFERENCES sailing(id), class TEXT NOT NULL, quantity INTEGER NOT NULL, amount INTEGER_SCALED(2) NOT NULL);
CREATE TABLE account_entry (id INTEGER PRIMARY KEY, shipper_id INTEGER NOT NULL REFERENCES shipper(id), entered_on DATE NOT NULL, kind TEXT NOT NULL, reference TEXT, amount INTEGER_SCALED(2) NOT NULL);
CREATE TABLE fuel (id INTEGER PRIMARY KEY, vessel_id INTEGER NOT NULL REFERENCES vessel(id), bunkered_on DATE NOT NULL, litres INTEGER NOT NULL, cost INTEGER_SCALED(2) NOT NULL);
CREATE TABLE defect (id INTEGER PRIMARY KEY, vessel_id INTEGER NOT NULL REFERENCES vessel(id), reported_on DATE NOT NULL, system TEXT NOT NULL, severity INTEGER NOT NULL, closed_on DATE);
CREATE TABLE rate (year INTEGER NOT NULL, class TEXT NOT NULL, per_tonne INTEGER_SCALED(2) NOT NULL, least_charge INTEGER_SCALED(2) NOT NULL, PRIMARY KEY (year, class));
CREATE TABLE agent_manifest ("Waybill" TEXT, "Goods code" TEXT, "Sender" TEXT, "Addr1" TEXT, "Addr2" TEXT, "Mass (t)" TEXT, "Lodged" TEXT);
`;

export const INDEXES = `
CREATE INDEX consignment_lodged ON consignment(lodged_on);
CREATE INDEX consignment_shipper ON consignment(shipper_id);
CREATE INDEX consignment_sailing ON consignment(sailing_id);
CREATE INDEX surcharge_consignment ON surcharge(consignment_id);
CREATE INDEX sailing_departs ON sailing(departs_at);
CREATE INDEX duty_sailing ON duty(sailing_id);
CREATE INDEX fare_sale_sailing ON fare_sale(sailing_id);
CREATE INDEX account_entry_shipper ON account_entry(shipper_id);
`;

/** Units shown beside figures; the database itself cannot say them. */
export const UNITS: { table: string; column: string; unit: string }[] = [
  { table: "consignment", column: "weight", unit: "kg" },
  { table: "consignment", column: "freight_charge", unit: "EUR" },
  { table: "consignment", column: "insurance", unit: "EUR" },
  { table: "surcharge", column: "amount", unit: "EUR" },
  { table: "fare_sale", column: "amount", unit: "EUR" },
  { table: "account_entry", column: "amount", unit: "EUR" },
  { table: "fuel", column: "litres", unit: "l" },
  { table: "fuel", column: "cost", unit: "EUR" },
  { table: "shipper", column: "credit_limit", unit: "EUR" },
  { table: "route", column: "sea_miles", unit: "nmi" },
  { table: "vessel", column: "lane_metres", unit: "m" },
  { table: "rate", column: "per_tonne", unit: "EUR" },
  { table: "rate", column: "least_charge", unit: "EUR" },
];
