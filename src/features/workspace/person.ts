import { createContext, useContext } from "react";
import type { FrameData } from "../frame/frameData";

/** Who works here, as the bar on top of the page has it, and what the data knows them as. */
type Worker = Pick<FrameData, "person" | "role" | "knownAs">;
export const SignedInContext = createContext<Worker>({ person: null, role: "owner", knownAs: "" });

/** Who works here, and what they may do; no person where there are no accounts. */
export const useSignedIn = (): Worker => useContext(SignedInContext);
