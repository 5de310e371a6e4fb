import { BrokenItems } from "@/features/desk/BrokenItems";
import { brokenState } from "@/server/desk/missing";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  return <BrokenItems state={await brokenState(await signedInWorkspace("analyst"))} />;
}
