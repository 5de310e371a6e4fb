import { toast } from "sonner";
import { COMMON } from "./words";

/** Copies a text and says so; where the browser does not let a page copy (it may not, on an address that is not a safe one), says what to do. */
export async function copyText(text: string, done: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text);
    toast(done);
  } catch {
    toast.error(COMMON.copyRefused);
  }
}
