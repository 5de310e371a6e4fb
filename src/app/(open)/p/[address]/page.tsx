import type { Metadata } from "next";
import { PublicPage } from "@/features/pages/PublicPage";
import { WORDS } from "@/features/pages/words";
import { countView, pageAt } from "@/server/services/pages/published";
import { workspace } from "@/server/services/workspace/here";
import { logoAddress } from "@/server/services/workspace/settings";

export const metadata: Metadata = { robots: { index: false, follow: false } };

/** A page for people without an account. Until its passcode is given not even its title is told. */
export default async function Page({ params }: { params: Promise<{ address: string }> }) {
  const { address } = await params;
  const house = workspace();
  let locked: boolean;
  try {
    const { publication } = pageAt(house, address);
    countView(house, publication.object);
    locked = publication.passcode !== null;
  } catch (error) {
    return <p className="mx-auto max-w-xl p-10">{error instanceof Error ? error.message : WORDS.thisPageIsNotPublished}</p>;
  }
  return <PublicPage address={address} locked={locked} locale={house.locale} logo={logoAddress(house)} />;
}
