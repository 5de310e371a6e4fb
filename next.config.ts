import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["better-sqlite3", "pdfkit", "fontkit", "@napi-rs/canvas"],
  poweredByHeader: false,
  devIndicators: false,
  typescript: { ignoreBuildErrors: true },
  distDir: process.env.NEXT_LEDGER_DIST ?? ".next",
};

export default config;
