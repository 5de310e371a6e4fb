import type { ReportLevel } from "./spec";

export const newLevel = (column: string): ReportLevel => ({ column, heading: "{}", direction: "up", newPage: false, keepRows: 2, repeat: true });
