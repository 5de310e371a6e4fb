import type { ReactNode } from "react";
import { Frame } from "@/features/frame/Frame";
import { frameData } from "@/features/frame/frameData";
import { Opening } from "@/features/frame/Opening";
import { signedInWorkspace } from "@/server/http/signedIn";

/** The pages for those who are signed in (or, where there are no accounts, for whoever sits at this machine). */
export default async function Layout({ children }: { children: ReactNode }) {
  const ws = await signedInWorkspace();
  const opening = await ws.opening();
  return <Frame data={frameData(ws)}>{opening === null ? children : <Opening first={opening} />}</Frame>;
}
