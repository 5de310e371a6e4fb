"use client";

// biome-ignore lint/style/noRestrictedImports: the one place that may
import NextLink, { useLinkStatus } from "next/link";
import type { ComponentProps } from "react";
import { COMMON } from "./words";

type Props = Omit<ComponentProps<typeof NextLink>, "prefetch">;

/**
 * A link within the application. Where it leads is asked for when it is followed, not before: pages show the data of the
 * moment. Until that answers, the page that stands is left as it is, under a bar that says so.
 */
export function Link({ children, ...props }: Props) {
  return (
    <NextLink {...props} prefetch={false}>
      {children}
      <Following />
    </NextLink>
  );
}

function Following() {
  const { pending } = useLinkStatus();
  return pending ? (
    <span role="status" className="appear-late fixed inset-x-0 top-0 z-50 h-1 bg-bottle">
      <span className="sr-only">{COMMON.opening}</span>
    </span>
  ) : null;
}
