import type { ReactNode } from "react";
import { Frame } from "@/features/frame/Frame";
import { frameData } from "@/features/frame/frameData";
import { signedInWorkspace } from "@/server/http/signedIn";

/** The pages for those who are signed in (or, where there are no accounts, for whoever sits at this machine). */
export default async function Layout({ children }: { children: ReactNode }) {
  return <Frame data={frameData(await signedInWorkspace())}>{children}</Frame>;
}
