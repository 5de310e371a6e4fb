import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { ask, sentenceOf } from "./ask";

/** Makes something and opens it: asks a path with a body, and goes to what it answers, below a place. Why it is not made is said. */
export function useMakeFrom() {
  const router = useRouter();
  return async (path: string, place: string, body: object): Promise<void> => {
    const made = await ask<{ id: string }>(path, body).catch((error) => void toast.error(sentenceOf(error)));
    if (made) router.push(`${place}/${made.id}`);
  };
}
