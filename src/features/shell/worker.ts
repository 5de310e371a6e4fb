import { createContext, useContext } from "react";
import type { ShellData } from "./data";

/** Who works here, as the bar on top of the page has it, and what the data knows them as. */
type Worker = Pick<ShellData, "person" | "role" | "knownAs">;
export const WorkerContext = createContext<Worker>({ person: null, role: "owner", knownAs: "" });

/** Who works here, and what they may do; no person where there are no accounts. */
export const useWorker = (): Worker => useContext(WorkerContext);
