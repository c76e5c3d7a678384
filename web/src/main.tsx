import "@fontsource-variable/archivo/wdth.css";
import "@fontsource-variable/source-sans-3/wght.css";
import "./app/theme.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Shell } from "./app/Shell";
import { ThemeProvider } from "./app/theme";
import { FlightPage } from "./bench/FlightPage";
import { ReachPage } from "./bench/ReachPage";
import { PlayerPage } from "./players/PlayerPage";
import { PlayersPage } from "./players/PlayersPage";
import { ReadPage } from "./read/ReadPage";
import { NotHere } from "./ui/Notice";

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: 1 } } });

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { index: true, element: <Navigate to="/players" replace /> },
      { path: "players", element: <PlayersPage /> },
      { path: "players/:player", element: <PlayerPage /> },
      { path: "sessions/:session/read", element: <ReadPage /> },
      { path: "bench", element: <Navigate to="/bench/flight" replace /> },
      { path: "bench/flight", element: <FlightPage /> },
      { path: "bench/reach", element: <ReachPage /> },
      { path: "*", element: <NotHere /> },
    ],
  },
]);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <ThemeProvider>
          <RouterProvider router={router} />
        </ThemeProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
