import { defineConfig } from "drizzle-kit";

export default defineConfig({ dialect: "sqlite", schema: "./src/server/catalogue/tables.ts", out: "./src/server/catalogue/migrations" });
