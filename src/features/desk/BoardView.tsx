"use client";

import dynamic from "next/dynamic";

/** A dashboard as it stands on the desk, loaded where there is one. */
export const BoardView = dynamic(() => import("../dashboards/DashboardPage").then((m) => m.DashboardPage), { loading: () => null });
