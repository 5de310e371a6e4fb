import type Database from "better-sqlite3";
import { addDays, dayNumber, weekdayOf } from "../src/core/types/date";
import {
  COMMODITIES,
  FIRST_NAMES,
  HARBOURS,
  LAST_NAMES,
  MIDDLE_NAMES,
  RANKS,
  RATE_RISE,
  RATES,
  ROUTES,
  SHIPPERS,
  SHIPPERS_GONE,
  TRADE_GOODS,
  VESSELS,
} from "./company";
import { type Random, seeded } from "./random";
import { INDEXES, TABLES } from "./tables";

export const FIRST_DAY = "2023-11-01";
export const LAST_DAY = "2026-10-31";
const SEED = 20231101;
/** About how many waybills the company writes in three years. */
const CONSIGNMENTS = 45_000;

type Insert = (...values: (string | number | null)[]) => void;

/**
 * Fills an empty database with Brindle Sound Ferries: three years, always the same.
 * The faults it has on purpose are listed in docs/demo-company.md.
 */
export function generateCompany(db: Database.Database): void {
  db.pragma("foreign_keys = OFF");
  db.exec(TABLES);
  const random = seeded(SEED);
  const insert = (table: string, columns: number): Insert => {
    const statement = db.prepare(`INSERT INTO ${table} VALUES (${Array(columns).fill("?").join(", ")})`);
    return (...values) => statement.run(...values);
  };
  db.transaction(() => {
    fixedTables(insert, random);
    const crew = crewTable(insert("crew", 8), random);
    const sailings = sailingTables(insert, random, crew);
    const shippers = shipperTable(insert("shipper", 8), random, crew);
    const waybills = consignmentTables(insert, random, sailings, shippers);
    accountTable(insert("account_entry", 6), random, waybills);
    vesselCosts(insert, random);
    manifestTable(insert("agent_manifest", 7), random, waybills);
  })();
  db.exec(INDEXES);
  db.exec("ANALYZE");
}

function fixedTables(insert: (table: string, columns: number) => Insert, _random: Random): void {
  const harbour = insert("harbour", 4);
  HARBOURS.forEach(([name, island, code], i) => harbour(i + 1, name, island, code));
  const route = insert("route", 6);
  ROUTES.forEach(([from, to, miles, minutes], i) => {
    const [a, b] = [from, to].map((code) => HARBOURS.findIndex((h) => h[2] === code));
    const names = [a, b].map((h) => HARBOURS[h ?? 0]?.[0]);
    route(2 * i + 1, names.join(" – "), (a ?? 0) + 1, (b ?? 0) + 1, miles, minutes);
    route(2 * i + 2, [...names].reverse().join(" – "), (b ?? 0) + 1, (a ?? 0) + 1, miles, minutes);
  });
  const vessel = insert("vessel", 6);
  VESSELS.forEach((v, i) => vessel(i + 1, ...v));
  const commodity = insert("commodity", 5);
  COMMODITIES.forEach((c, i) => commodity(i + 1, ...c));
  const rate = insert("rate", 4);
  for (const [year, rise] of Object.entries(RATE_RISE))
    for (const [kind, [perTonne, least]] of Object.entries(RATES))
      rate(Number(year), kind, Math.round((perTonne * rise) / 100), Math.round((least * rise) / 100));
}

type Crew = { id: number; rank: string };

function crewTable(insert: Insert, random: Random): Crew[] {
  const crew: Crew[] = [];
  const add = (rank: string, reportsTo: number | null) => {
    const id = crew.length + 1;
    const middle = random.chance(0.55) ? null : random.pick(MIDDLE_NAMES);
    const joined = addDays("2004-01-01", random.whole(0, 7200));
    insert(id, rank, random.pick(FIRST_NAMES), middle, random.pick(LAST_NAMES), random.whole(1, HARBOURS.length), reportsTo, joined);
    crew.push({ id, rank });
    return id;
  };
  const superintendent = add("Superintendent", null);
  for (let team = 0; team < 14; team++) {
    const master = add("Master", superintendent);
    for (const rank of RANKS.slice(1)) add(rank, master);
  }
  const head = add("Freight manager", superintendent);
  for (let i = 0; i < 5; i++) add("Desk officer", head);
  return crew;
}

type Sailing = { id: number; day: string; calledOff: boolean };

/** How busy a day is against a quiet one: summer, weekends and growth from year to year. */
function season(day: string): number {
  const yearDay = (dayNumber(day) - dayNumber(`${day.slice(0, 4)}-01-01`)) / 365;
  return 1 + 0.35 * Math.sin(2 * Math.PI * (yearDay - 0.3)) + 0.06 * (Number(day.slice(0, 4)) - 2023);
}

function sailingTables(insert: (table: string, columns: number) => Insert, random: Random, crew: Crew[]): Sailing[] {
  const [sailing, duty, fare] = [insert("sailing", 7), insert("duty", 4), insert("fare_sale", 5)];
  const sailings: Sailing[] = [];
  const [masters, deckhands] = [crew.filter((c) => c.rank === "Master"), crew.filter((c) => c.rank === "Deckhand")];
  let duties = 0;
  let fares = 0;
  const clock = (minutes: number) => `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
  const classes = [
    ["adult", 1450],
    ["child", 720],
    ["car", 4200],
    ["cycle", 300],
  ] as const;
  for (let day = FIRST_DAY; day <= LAST_DAY; day = addDays(day, 1)) {
    const weekend = weekdayOf(day) > 5;
    ROUTES.forEach((route, r) => {
      const wanted = route[4] * season(day) * (weekend ? 0.75 : 1) * 0.71;
      const trips = Math.floor(wanted) + (random.chance(wanted % 1) ? 1 : 0);
      for (let trip = 0; trip < trips; trip++) {
        const out = 380 + trip * 200 + random.whole(0, 11) * 5;
        const vessel = 1 + ((r + trip) % VESSELS.length);
        const calledOff = random.chance(month(day) < 3 || month(day) > 10 ? 0.035 : 0.008);
        for (const [direction, leaves] of [
          [1, out],
          [2, out + route[3] + 40],
        ] as const) {
          const id = sailings.length + 1;
          const delay = calledOff ? 0 : random.chance(0.18) ? random.whole(5, 75) : 0;
          const capacity = VESSELS[vessel - 1]?.[2] ?? 100;
          const aboard = calledOff ? 0 : Math.round(capacity * (0.15 + 0.45 * random.next()) * Math.min(1.4, season(day)) * (weekend ? 1.15 : 1));
          // One sailing has no vessel: nobody wrote it down.
          sailing(
            id,
            2 * r + direction,
            id === 7777 ? null : vessel,
            `${day} ${clock(leaves)}:00`,
            calledOff ? "called off" : delay > 0 ? "delayed" : "sailed",
            delay,
            Math.min(aboard, capacity),
          );
          sailings.push({ id, day, calledOff });
          duty(++duties, id, random.pick(masters).id, "in command");
          for (const role of ["deck", "deck", "engine"]) duty(++duties, id, random.pick(role === "deck" ? deckhands : crew.slice(1, 120)).id, role);
          if (calledOff) continue;
          for (const [kind, price] of classes) {
            const sold = Math.round(aboard * { adult: 0.62, child: 0.2, car: 0.16, cycle: 0.05 }[kind]);
            if (sold > 0) fare(++fares, id, kind, sold, sold * price);
          }
        }
      }
    });
  }
  return sailings;
}

const month = (day: string) => Number(day.slice(5, 7));

function shipperTable(insert: Insert, random: Random, crew: Crew[]) {
  const officers = crew.filter((c) => c.rank === "Desk officer");
  const present = SHIPPERS.length - SHIPPERS_GONE;
  SHIPPERS.slice(0, present).forEach(([name, trade, island, size], i) => {
    insert(
      i + 1,
      name,
      trade,
      island,
      officers[i % officers.length]?.id ?? null,
      addDays("2012-01-01", random.whole(0, 4000)),
      size * 250_000,
      random.chance(0.06) ? 1 : 0,
    );
  });
  return SHIPPERS.map(([name, trade, island, size], i) => ({ id: i + 1, name, trade, island, size, gone: i >= present }));
}

type Waybill = { id: number; no: string; day: string; shipper: number; gone: boolean; freight: number; status: string };

function consignmentTables(
  insert: (table: string, columns: number) => Insert,
  random: Random,
  sailings: Sailing[],
  shippers: ReturnType<typeof shipperTable>,
): Waybill[] {
  const [consignment, surcharge] = [insert("consignment", 11), insert("surcharge", 4)];
  const byDay = new Map<string, Sailing[]>();
  for (const s of sailings) byDay.set(s.day, [...(byDay.get(s.day) ?? []), s]);
  const waybills: Waybill[] = [];
  let surcharges = 0;
  const days = dayNumber(LAST_DAY) - dayNumber(FIRST_DAY) + 1;
  for (let day = FIRST_DAY; day <= LAST_DAY; day = addDays(day, 1)) {
    const pace = (CONSIGNMENTS / days) * season(day) * (weekdayOf(day) === 7 ? 0.15 : weekdayOf(day) === 6 ? 0.55 : 1.25);
    const today = Math.round(pace * (0.8 + 0.4 * random.next()) * 0.906);
    for (let i = 0; i < today; i++) {
      const shipper = random.weighted(shippers, (s) => s.size);
      const code = random.weighted(TRADE_GOODS[shipper.trade] ?? ["STORE-M"], (g) => 1 / (1 + (TRADE_GOODS[shipper.trade] ?? []).indexOf(g)));
      const commodity = COMMODITIES.findIndex((c) => c[0] === code);
      const kind = (COMMODITIES[commodity]?.[2] ?? "general") as keyof typeof RATES;
      const weight = Math.round((60 + 2400 * random.next() ** 3 * (kind === "bulk" || kind === "timber" ? 3 : 1)) * 10);
      const rise = RATE_RISE[Number(day.slice(0, 4))] ?? 100;
      let freight = Math.max(Math.round((RATES[kind][1] * rise) / 100), Math.round((RATES[kind][0] * rise * weight) / 1_000_000));
      const id = waybills.length + 1;
      const credit = random.chance(0.004);
      if (credit) freight = -Math.round(freight * 0.5);
      const offered = byDay.get(addDays(day, random.whole(0, 1))) ?? [];
      const sails = offered[random.whole(0, Math.max(0, offered.length - 1))];
      const status = random.chance(0.0046) ? "void" : credit ? "credited" : day > "2026-10-28" ? "lodged" : "delivered";
      const no = `BW-${20000 + id}`;
      const address = random.chance(0.2)
        ? null
        : `${random.pick(["Quay 1", "Quay 2", "Dairy Lane", "Mill Road", "The Slip", "Old Pier"])}, ${shipper.island ?? "Great Brindle"}`;
      consignment(
        id,
        no,
        day,
        shipper.id,
        commodity + 1,
        random.chance(0.003) ? null : (sails?.id ?? null),
        address,
        weight,
        freight,
        random.chance(0.4) ? null : Math.round(freight * 0.012 + 150),
        status,
      );
      waybills.push({ id, no, day, shipper: shipper.id, gone: shipper.gone, freight, status });
      if (COMMODITIES[commodity]?.[3]) surcharge(++surcharges, id, "dangerous goods", 1850);
      if (kind === "chilled" && random.chance(0.6)) surcharge(++surcharges, id, "cold deck", 1200);
      if (random.chance(0.12)) surcharge(++surcharges, id, "late lodging", 750);
      if (random.chance(0.08)) surcharge(++surcharges, id, "fuel", Math.max(100, Math.round(Math.abs(freight) * 0.03)));
    }
  }
  return waybills;
}

/** Each month a charge for each shipper, most paid the month after; credit notes where a waybill was credited. */
function accountTable(insert: Insert, random: Random, waybills: Waybill[]): void {
  let id = 0;
  const bills = new Map<string, number>();
  for (const w of waybills) {
    if (w.gone || w.status === "void") continue;
    const key = `${w.day.slice(0, 7)} ${w.shipper}`;
    if (w.freight > 0) bills.set(key, (bills.get(key) ?? 0) + w.freight);
    else insert(++id, w.shipper, w.day, "credit note", w.no, w.freight);
  }
  for (const [key, amount] of bills) {
    const [billed = "", shipper = ""] = key.split(" ");
    const due = addDays(`${billed}-28`, 4);
    insert(++id, Number(shipper), due, "charge", `INV-${billed}-${shipper}`, amount);
    if (random.chance(0.93)) insert(++id, Number(shipper), addDays(due, random.whole(8, 45)), "payment", `INV-${billed}-${shipper}`, -amount);
    else if (random.chance(0.5))
      insert(++id, Number(shipper), addDays(due, random.whole(20, 60)), "payment", `INV-${billed}-${shipper}`, -Math.round(amount * 0.6));
  }
}

function vesselCosts(insert: (table: string, columns: number) => Insert, random: Random): void {
  const [fuel, defect] = [insert("fuel", 5), insert("defect", 6)];
  let [fuels, defects] = [0, 0];
  for (let day = FIRST_DAY; day <= LAST_DAY; day = addDays(day, 1))
    VESSELS.forEach((vessel, v) => {
      if ((dayNumber(day) + v) % 4 === 0) {
        const litres = Math.round(vessel[1] * (8 + 4 * random.next()) * season(day));
        fuel(++fuels, v + 1, day, litres, Math.round(litres * (78 + 14 * random.next())));
      }
      if (random.chance(0.035)) {
        const closed = random.chance(0.9) ? addDays(day, random.whole(0, 30)) : null;
        defect(
          ++defects,
          v + 1,
          day,
          random.pick(["ramp", "main engine", "galley", "radar", "bow thruster", "doors", "lifeboat"]),
          random.whole(1, 4),
          closed && closed <= LAST_DAY ? closed : null,
        );
      }
    });
}

/** What an agent sends in November: other column names, tonnes for kilograms, some rows twice, some known already, some wrong. */
function manifestTable(insert: Insert, random: Random, waybills: Waybill[]): void {
  const rows: (string | null)[][] = [];
  for (let i = 0; i < 196; i++) {
    const [, trade] = random.pick(SHIPPERS);
    const sender = random.pick(SHIPPERS.filter((s) => s[1] === trade))[0];
    const code = random.pick(TRADE_GOODS[trade] ?? ["STORE-M"]);
    const island = random.pick(HARBOURS)[1];
    const tonnes = (random.whole(80, 6400) / 1000).toFixed(3);
    rows.push([
      `BW-${70001 + i}`,
      code,
      sender,
      random.pick(["Quay 2", " Dairy Lane", "Mill Road ", "The Slip"]),
      island,
      tonnes,
      `${random.whole(1, 20)}/11/2026`,
    ]);
  }
  for (const w of waybills.slice(-4)) rows.push([w.no, "STORE-M", "Great Brindle Stores", "Quay 1", "Great Brindle", "0.240", "31/10/2026"]);
  for (const code of ["LRCH", "WOOL", "??"]) rows.push([`BW-${70300 + rows.length}`, code, "Skarrow Timber", "Quay 2", "Pell", "0.990", "12/11/2026"]);
  for (let i = 0; i < 7; i++) rows.push(rows[i * 20] as (string | null)[]);
  for (const row of rows) insert(...row);
}
