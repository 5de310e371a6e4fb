import { Failure } from "@/features/frame/Failure";
import { ShapePage } from "@/features/shape/ShapePage";
import { signedInWorkspace } from "@/server/http/signedIn";
import { shapeNowOf } from "@/server/services/shape/service";

/** A table that is made by hand. */
export default async function Page() {
  const ws = await signedInWorkspace("analyst");
  try {
    return <ShapePage table={null} schema={await ws.shownSchema()} today={ws.today} now={await shapeNowOf(ws, null, { client: "page" })} />;
  } catch (error) {
    return <Failure words={(error as Error).message} />;
  }
}
