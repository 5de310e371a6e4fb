import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["better-sqlite3", "pdfkit", "fontkit", "@napi-rs/canvas"],
  poweredByHeader: false,
  devIndicators: false,
  typescript: { ignoreBuildErrors: true },
  // What browsers ask for by habit, before a page has told them of its picture.
  rewrites: async () => [{ source: "/favicon.ico", destination: "/icon.svg" }],
  distDir: process.env.NEXT_LEDGER_DIST ?? ".next",
};

export default config;
