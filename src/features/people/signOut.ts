import { toast } from "sonner";
import { ask, sentenceOf } from "../ask";

/** Ends this browser's session, or all of one's sessions. */
export async function signOut(everywhere: boolean): Promise<void> {
  try {
    await ask("/api/session", { everywhere }, { method: "DELETE" });
    window.location.assign("/sign-in");
  } catch (error) {
    toast.error(sentenceOf(error));
  }
}
