import { BrokenItems } from "@/features/desk/BrokenItems";
import { signedInWorkspace } from "@/server/http/signedIn";
import { brokenState } from "@/server/services/desk/missing";

export default async function Page() {
  return <BrokenItems state={await brokenState(await signedInWorkspace("analyst"))} />;
}
