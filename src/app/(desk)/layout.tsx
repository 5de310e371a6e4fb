import type { ReactNode } from "react";
import { shellData } from "@/features/shell/data";
import { Shell } from "@/features/shell/Shell";
import { desk } from "@/server/people/desk";

/** The pages for those who are signed in (or, where there are no accounts, for whoever sits at this machine). */
export default async function Layout({ children }: { children: ReactNode }) {
  return <Shell data={shellData(await desk())}>{children}</Shell>;
}
