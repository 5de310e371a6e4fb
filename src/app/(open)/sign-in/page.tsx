import type { Metadata } from "next";
import { headers } from "next/headers";
import { redirect } from "next/navigation";
import { SignInPage } from "@/features/people/SignInPage";
import { WORDS } from "@/features/people/words";
import { titleOf } from "@/features/workspace/title";
import { personOf } from "@/server/http/session";
import { demoPeople } from "@/server/services/people/demo";
import { workspace } from "@/server/services/workspace/here";
import { logoAddress } from "@/server/services/workspace/settings";

export const metadata: Metadata = { title: titleOf(WORDS.signIn) };

export default async function Page() {
  const house = workspace();
  const asked = await headers();
  if (!house.people.any() || personOf(house, asked)) redirect("/");
  return <SignInPage demo={demoPeople(house, asked)} company={house.company} logo={logoAddress(house)} />;
}
