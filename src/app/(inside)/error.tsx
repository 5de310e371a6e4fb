"use client";

/** A section that failed leaves the navigation as it is: the rest of the desk can be reached. */
export { default } from "../error";
