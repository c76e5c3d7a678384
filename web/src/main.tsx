import "@fontsource-variable/archivo/wdth.css";
import "@fontsource-variable/source-sans-3/wght.css";
import "./app/theme.css";
import "./app/stations.css";
import "./app/decide.css";
import "./app/account.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { AccountPage } from "./account/AccountPage";
import { Gate } from "./account/Gate";
import { Shell } from "./app/Shell";
import { ThemeProvider } from "./app/theme";
import { FlightPage } from "./bench/FlightPage";
import { ReachPage } from "./bench/ReachPage";
import { HitPage } from "./hit/HitPage";
import { PlayerPage } from "./players/PlayerPage";
import { PlayersPage } from "./players/PlayersPage";
import { SharedPage } from "./players/SharedPage";
import { NewSessionPage, PreparePage } from "./prepare/PreparePage";
import { ReadPage } from "./read/ReadPage";
import { HouseRulesPage } from "./rules/HouseRulesPage";
import { AgreementPage } from "./school/AgreementPage";
import { DevicesPage } from "./school/DevicesPage";
import { DoubtfulPage } from "./school/DoubtfulPage";
import { FilesPage } from "./school/FilesPage";
import { PeoplePage } from "./school/PeoplePage";
import { RecordPage } from "./school/RecordPage";
import { TodayPage } from "./today/TodayPage";
import { NotHere } from "./ui/Notice";
import { WarmUpPage } from "./warmup/WarmUpPage";

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: 1 } } });

const router = createBrowserRouter([
  { path: "shared", element: <SharedPage /> },
  {
    element: (
      <Gate>
        <Shell />
      </Gate>
    ),
    children: [
      { index: true, element: <Navigate to="/today" replace /> },
      { path: "today", element: <TodayPage /> },
      { path: "players", element: <PlayersPage /> },
      { path: "players/:player", element: <PlayerPage /> },
      { path: "players/:player/prepare", element: <NewSessionPage /> },
      {
        path: "players/:player/compare",
        lazy: async () => ({ Component: (await import("./compare/ComparePage")).ComparePage }),
      },
      { path: "sessions/:session/prepare", element: <PreparePage /> },
      { path: "sessions/:session/warm-up", element: <WarmUpPage /> },
      { path: "sessions/:session/hit", element: <HitPage /> },
      { path: "sessions/:session/read", element: <ReadPage /> },
      {
        path: "sessions/:session/decide",
        lazy: async () => ({ Component: (await import("./decide/DecidePage")).DecidePage }),
      },
      { path: "house-rules", element: <HouseRulesPage /> },
      { path: "school", element: <Navigate to="/school/devices" replace /> },
      { path: "account", element: <AccountPage /> },
      { path: "school/record", element: <RecordPage /> },
      { path: "school/people", element: <PeoplePage /> },
      { path: "school/devices", element: <DevicesPage /> },
      { path: "school/agreement", element: <AgreementPage /> },
      { path: "school/doubtful", element: <DoubtfulPage /> },
      { path: "school/files", element: <FilesPage /> },
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
