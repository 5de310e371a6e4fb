import type { Metadata } from "next";
import type { ReactNode } from "react";
import { COMMON } from "@/features/words";
import "./globals.css";

export const metadata: Metadata = { description: COMMON.everyFigureCanBeProved };
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
