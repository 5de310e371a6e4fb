/** The fixed part of Brindle Sound Ferries: what the company is before anything happens. All of it is invented. */
export const ISLANDS = ["Great Brindle", "Pell", "Skarrow", "Oat Holm", "Tarn Holm", "Colm Ness", "Mirrin", "Wester Fend"] as const;

export const HARBOURS = [
  ["Brindle Town", "Great Brindle", "BRT"],
  ["Southquay", "Great Brindle", "SQY"],
  ["Pell Haven", "Pell", "PEL"],
  ["Skarrow Pier", "Skarrow", "SKA"],
  ["Oat Holm", "Oat Holm", "OAT"],
  ["Tarn Landing", "Tarn Holm", "TAR"],
  ["Ness Slip", "Colm Ness", "NES"],
  ["Mirrin Harbour", "Mirrin", "MIR"],
  ["Fend Sound", "Wester Fend", "FEN"],
] as const;

/** Harbour codes at both ends, sea miles in tenths, minutes, sailings each way on a summer weekday. */
export const ROUTES = [
  ["BRT", "PEL", 84, 45, 2.2],
  ["BRT", "SKA", 131, 70, 1.5],
  ["SQY", "OAT", 62, 35, 0.9],
  ["SQY", "TAR", 97, 55, 0.6],
  ["PEL", "SKA", 77, 40, 0.7],
  ["PEL", "NES", 158, 85, 0.5],
  ["SKA", "MIR", 109, 60, 0.5],
  ["MIR", "FEN", 88, 50, 0.35],
  ["TAR", "OAT", 41, 25, 0.3],
] as const;

/** Name, lane metres, passengers, year built, day in service. */
export const VESSELS = [
  ["Merganser", 640, 520, 2009, "2010-04-12"],
  ["Lapwing", 480, 380, 2014, "2014-11-03"],
  ["Sandpiper", 410, 300, 2017, "2018-03-19"],
  ["Turnstone", 280, 220, 1998, "1998-06-01"],
  ["Dunlin", 190, 150, 2003, "2004-02-16"],
  ["Whimbrel", 120, 90, 2021, "2021-09-06"],
] as const;

/** Name, trade, island (null where nobody filled it in), size. The last three have left the books. */
export const SHIPPERS = [
  ["Marram Boatworks", "Building", "Skarrow", 7],
  ["Fennimore Kilns", "Ceramics", "Great Brindle", 9],
  ["Skarrow Timber", "Timber", "Skarrow", 12],
  ["Mirrin Wool", "Wool", "Mirrin", 6],
  ["Tarn Quarry", "Building", "Tarn Holm", 11],
  ["Great Brindle Stores", "Stores", "Great Brindle", 14],
  ["Pell Creamery", "Dairy", "Pell", 10],
  ["Oat Holm Oysters", "Fish", "Oat Holm", 6],
  ["Ardle Still", "Distilling", "Colm Ness", 8],
  ["Colm Ness Distillers", "Distilling", "Colm Ness", 7],
  ["Ness Growers", "Growers", "Colm Ness", 5],
  ["Wester Fend Growers", "Growers", "Wester Fend", 5],
  ["Pell Glass", "Glass", "Pell", 4],
  ["Brindle Bakehouse", "Stores", "Great Brindle", 5],
  ["Southquay Chandlers", "Stores", "Great Brindle", 4],
  ["Tarn Lime", "Building", "Tarn Holm", 4],
  ["Fend Kelp", "Growers", "Wester Fend", 2],
  ["Skarrow Smokehouse", "Fish", "Skarrow", 4],
  ["Mirrin Weavers", "Wool", "Mirrin", 3],
  ["Oat Holm Mill", "Growers", "Oat Holm", 3],
  ["Haven Fish", "Fish", "Pell", 5],
  ["Saltmarsh Lamb", "Stores", null, 3],
  ["Northlight Joinery", "Timber", "Skarrow", 3],
  ["Quern & Rye", "Stores", "Great Brindle", 2],
  ["Brindle Books", "Stores", "Great Brindle", 1],
  ["Kestrel Roofing", "Building", "Great Brindle", 3],
  ["Ebb Tide Salt", "Stores", "Colm Ness", 2],
  ["Pell Honey", "Growers", "Pell", 1],
  ["Lantern Candles", "Stores", null, 1],
  ["Gannet Ironwork", "Building", "Mirrin", 2],
  ["Thrift & Daughters", "Stores", "Wester Fend", 1],
  ["Rowan Cider", "Distilling", "Oat Holm", 2],
  ["Heron Paper", "Glass", "Tarn Holm", 1],
  ["Sound Electrics", "Building", "Great Brindle", 2],
  ["Cobble Lane Toys", "Stores", "Pell", 1],
  ["Moor Peat", "Growers", null, 2],
  ["Old Pier Stores", "Stores", "Skarrow", 1],
  ["Bracken Bedding", "Wool", "Mirrin", 1],
  ["Tidewater Tackle", "Fish", "Great Brindle", 1],
  ["Farrow Feeds", "Growers", "Great Brindle", 1],
] as const;
/** How many of the shippers, counted from the end, are gone from the table though their consignments remain. */
export const SHIPPERS_GONE = 3;

/** Code, name, class, dangerous. */
export const COMMODITIES = [
  ["LARCH-P", "Larch plank", "timber", 0],
  ["OAK-B", "Oak beam", "timber", 0],
  ["STONE-D", "Dressed stone", "bulk", 0],
  ["LIME-S", "Slaked lime", "bulk", 1],
  ["CURD-C", "Curds, chilled", "chilled", 0],
  ["BUTTER", "Butter", "chilled", 0],
  ["OYST-L", "Oysters, live", "chilled", 0],
  ["FISH-S", "Smoked fish", "chilled", 0],
  ["WOOL-B", "Wool, baled", "general", 0],
  ["CLOTH", "Woven cloth", "general", 0],
  ["SPIRIT", "Spirits in cask", "general", 1],
  ["CIDER", "Cider", "general", 0],
  ["POTATO", "Seed potatoes", "bulk", 0],
  ["KELP-D", "Dried kelp", "bulk", 0],
  ["TILE-G", "Glazed tile", "general", 0],
  ["GLASS-S", "Sheet glass", "general", 0],
  ["STORE-M", "Mixed stores", "general", 0],
  ["FLOUR", "Flour", "bulk", 0],
  ["GAS-B", "Bottled gas", "general", 1],
  ["PAPER", "Paper", "general", 0],
] as const;

/** Commodity codes a trade sends, most often first. */
export const TRADE_GOODS: Record<string, readonly string[]> = {
  Building: ["STONE-D", "LIME-S", "OAK-B"],
  Ceramics: ["TILE-G"],
  Timber: ["LARCH-P", "OAK-B"],
  Wool: ["WOOL-B", "CLOTH"],
  Stores: ["STORE-M", "FLOUR", "GAS-B", "PAPER"],
  Dairy: ["CURD-C", "BUTTER"],
  Fish: ["OYST-L", "FISH-S"],
  Distilling: ["SPIRIT", "CIDER"],
  Growers: ["POTATO", "KELP-D", "FLOUR"],
  Glass: ["GLASS-S", "PAPER"],
};

/** Cents a tonne, and the least charge in cents, by class; each year a little dearer. */
export const RATES = { timber: [4150, 1800], bulk: [2900, 1500], chilled: [7400, 2400], general: [5200, 1900] } as const;
export const RATE_RISE: Record<number, number> = { 2023: 100, 2024: 104, 2025: 109, 2026: 113 };

export const RANKS = ["Master", "Mate", "Second mate", "Chief engineer", "Engineer", "Bosun", "Deckhand", "Deckhand", "Steward"] as const;
export const FIRST_NAMES = [
  "Ines",
  "Tam",
  "Odile",
  "Bran",
  "Maren",
  "Ketil",
  "Sorcha",
  "Piet",
  "Una",
  "Rafe",
  "Liv",
  "Cormac",
  "Nessa",
  "Jorn",
  "Ailsa",
  "Dov",
  "Freya",
  "Osk",
  "Zora",
  "Ewan",
  "Ćiril",
  "Łucja",
] as const;
export const MIDDLE_NAMES = ["Rae", "Finn", "Jo", "Elin", "Magnus", "Ruth", "Aud", "Colm"] as const;
export const LAST_NAMES = [
  "Ravn",
  "Holm",
  "Kerrow",
  "Tveit",
  "Marsh",
  "Ostler",
  "Penhale",
  "Quill",
  "Skerry",
  "Thorn",
  "Voss",
  "Wick",
  "Yarrow",
  "Ångerman",
  "Blythe",
  "Crane",
  "Dunne",
  "Eldred",
] as const;
