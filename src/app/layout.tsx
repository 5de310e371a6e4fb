import type { Metadata } from "next";
import type { ReactNode } from "react";
import { COMMON } from "@/features/words";
import "./globals.css";

export const metadata: Metadata = { title: { default: "Next Ledger", template: "%s · Next Ledger" }, description: COMMON.everyFigureCanBeProved };
export const dynamic = "force-dynamic";

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <script src="/appearance.js" />
      </head>
      <body>{children}</body>
    </html>
  );
}
