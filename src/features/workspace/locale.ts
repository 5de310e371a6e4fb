"use client";

import { createContext, useContext } from "react";
import type { Locale } from "@/core/types/format";

export const LocaleContext = createContext<Locale>({ locale: "en-GB", zone: "UTC" });

/** How the workspace writes numbers and dates. */
export const useLocale = (): Locale => useContext(LocaleContext);
