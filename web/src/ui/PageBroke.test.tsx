import { fireEvent, render, screen } from "@testing-library/react";
import { createMemoryRouter, Link, Outlet, RouterProvider } from "react-router";
import { expect, test, vi } from "vitest";
import { PageBroke } from "./PageBroke";

function Broken(): never {
  throw new RangeError("no such zone");
}

test("a page that breaks says so, and the ways to the other pages stay", async () => {
  vi.spyOn(console, "error").mockImplementation(() => {});
  const frame = (
    <>
      <Link to="/whole">Elsewhere</Link>
      <Outlet />
    </>
  );
  const pages = [
    { path: "broken", element: <Broken /> },
    { path: "whole", element: <h1>Whole</h1> },
  ];
  const router = createMemoryRouter(
    [{ path: "/", element: frame, children: [{ errorElement: <PageBroke />, children: pages }] }],
    { initialEntries: ["/broken"] },
  );
  render(<RouterProvider router={router} />);
  expect((await screen.findByRole("alert")).textContent).toContain("no such zone");
  fireEvent.click(screen.getByText("Elsewhere"));
  expect((await screen.findByRole("heading")).textContent).toBe("Whole");
  expect(screen.queryByRole("alert")).toBeNull();
});
