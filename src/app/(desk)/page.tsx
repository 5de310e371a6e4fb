import { redirect } from "next/navigation";
import { desk } from "@/server/people/desk";

export default async function Home() {
  const { signedIn } = await desk();
  redirect(signedIn?.role === "viewer" ? "/dashboards" : "/queries");
}
