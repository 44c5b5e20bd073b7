import { type ReactNode, Suspense, useState } from "react";

/** What is fetched when it is first opened, and stays from then on, so that it can close as it should. */
export function OnceOpened({ open, children }: { open: boolean; children: ReactNode }) {
  const [was, setWas] = useState(open);
  if (open && !was) setWas(true);
  return was ? <Suspense fallback={null}>{children}</Suspense> : null;
}
