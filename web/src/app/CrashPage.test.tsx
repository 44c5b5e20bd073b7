import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { beforeEach, expect, test, vi } from "vitest";
import { CrashPage } from "./CrashPage";

const DRAFT = JSON.stringify({ document: { format: "rumek.plan/1", name: "Winch" }, links: {} });

function Broken(): never {
  throw new Error("a field of another kind");
}

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
});

test("a screen that failed says what is safe and sets its draft aside without losing it", () => {
  vi.spyOn(console, "error").mockReturnValue();
  const gone = vi.fn();
  vi.stubGlobal("location", { assign: gone });
  sessionStorage.setItem("rumek.draft", DRAFT);
  localStorage.setItem("rumek.draft", DRAFT);
  const router = createMemoryRouter([{ path: "/", element: <Broken />, errorElement: <CrashPage /> }]);
  render(
    <QueryClientProvider client={new QueryClient()}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  expect(screen.getByRole("heading").textContent).toBe("This screen failed");
  screen.getByRole("button", { name: "Set this draft aside" }).click();
  expect(gone).toHaveBeenCalledWith("/bench");
  expect(sessionStorage.getItem("rumek.draft")).toBeNull();
  expect(localStorage.getItem("rumek.draft")).toBeNull();
  expect(localStorage.getItem("rumek.draft.unreadable")).toBe(DRAFT);
  vi.unstubAllGlobals();
});
