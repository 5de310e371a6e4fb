import { Failure } from "@/features/frame/Failure";
import { COMMON } from "@/features/words";

export default function NotFound() {
  return <Failure words={COMMON.noSuchPage} />;
}
