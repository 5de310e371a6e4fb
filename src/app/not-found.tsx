import { Failure } from "@/features/shell/Failure";

export default function NotFound() {
  return <Failure words="There is no such page. The sections above, or Ctrl K, lead to what there is." />;
}
