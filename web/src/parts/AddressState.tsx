import { NuqsAdapter } from "nuqs/adapters/react-router/v7";
import type { ReactNode } from "react";

/** Lets screens keep state in their address, by the router, so that links and the way back know of it. */
export function AddressState({ children }: { children: ReactNode }) {
  return <NuqsAdapter defaultOptions={{ shallow: false }}>{children}</NuqsAdapter>;
}
