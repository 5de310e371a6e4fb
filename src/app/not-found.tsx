import { Failure } from "@/features/shell/Failure";
import { COMMON } from "@/features/words";

export default function NotFound() {
  return <Failure words={COMMON.noSuchPage} />;
}
