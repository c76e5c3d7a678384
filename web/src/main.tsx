import "@fontsource-variable/archivo/wdth.css";
import "@fontsource-variable/source-sans-3/wght.css";
import "./app/look.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Shell } from "./app/Shell";
import { ThemeProvider } from "./app/theme";
import { Gate } from "./school/account/Gate";
import { Aids } from "./school/aids/Aids";
import { PlayerPage } from "./school/players/PlayerPage";
import { PlayersPage } from "./school/players/PlayersPage";
import { SharedPage } from "./school/players/SharedPage";
import { TodayPage } from "./school/TodayPage";
import { HitPage } from "./session/hit/HitPage";
import { NewSessionPage, PreparePage } from "./session/prepare/PreparePage";
import { ReadPage } from "./session/read/ReadPage";
import { WarmUpPage } from "./session/warm-up/WarmUpPage";
import { NotHere } from "./ui/Notice";
import { PageBroke } from "./ui/PageBroke";

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: 1 } } });

const router = createBrowserRouter([
  {
    path: "board",
    lazy: async () => ({ Component: (await import("./session/board/BoardPage")).BoardPage }),
    errorElement: <PageBroke />,
  },
  { path: "shared", element: <SharedPage />, errorElement: <PageBroke /> },
  {
    // A screen of its own: nothing beside it is touched by mistake.
    path: "sessions/:session/run",
    lazy: async () => {
      const { RunPage } = await import("./training/RunPage");
      const element = (
        <Gate>
          <RunPage />
          <Aids />
        </Gate>
      );
      return { element };
    },
    errorElement: <PageBroke />,
  },
  {
    element: (
      <Gate>
        <Shell aids={<Aids buttons />} />
      </Gate>
    ),
    errorElement: <PageBroke />,
    children: [
      {
        // Within the frame, so that its ways lead on.
        errorElement: <PageBroke />,
        children: [
          { index: true, element: <Navigate to="/today" replace /> },
          { path: "today", element: <TodayPage /> },
          { path: "players", element: <PlayersPage /> },
          { path: "players/:player", element: <PlayerPage /> },
          { path: "players/:player/sessions", element: <PlayerPage tab="sessions" /> },
          { path: "players/:player/bag", element: <PlayerPage tab="bag" /> },
          { path: "players/:player/programme", element: <PlayerPage tab="programme" /> },
          { path: "players/:player/about", element: <PlayerPage tab="about" /> },
          { path: "players/:player/prepare", element: <NewSessionPage /> },
          {
            path: "players/:player/card",
            lazy: async () => ({ Component: (await import("./record/YardageCard")).YardageCard }),
          },
          {
            path: "players/:player/compare",
            lazy: async () => ({ Component: (await import("./trials/ComparePage")).ComparePage }),
          },
          { path: "sessions/:session/prepare", element: <PreparePage /> },
          { path: "sessions/:session/warm-up", element: <WarmUpPage /> },
          { path: "sessions/:session/hit", element: <HitPage /> },
          { path: "sessions/:session/read", element: <ReadPage /> },
          {
            path: "sessions/:session/decide",
            lazy: async () => ({ Component: (await import("./trials/DecidePage")).DecidePage }),
          },
          {
            path: "sessions/:session/page",
            lazy: async () => ({ Component: (await import("./report/SessionPage")).SessionPage }),
          },
          {
            path: "players/:player/page",
            lazy: async () => ({ Component: (await import("./report/PeriodPage")).PeriodPage }),
          },
          {
            path: "programmes",
            lazy: async () => ({
              Component: (await import("./training/ProgrammesPage")).ProgrammesPage,
            }),
          },
          {
            path: "house-rules",
            lazy: async () => ({
              Component: (await import("./school/rules/HouseRulesPage")).HouseRulesPage,
            }),
          },
          { path: "school", element: <Navigate to="/school/devices" replace /> },
          {
            path: "account",
            lazy: async () => ({
              Component: (await import("./school/account/AccountPage")).AccountPage,
            }),
          },
          {
            path: "school/record",
            lazy: async () => ({ Component: (await import("./school/RecordPage")).RecordPage }),
          },
          {
            path: "school/people",
            lazy: async () => ({ Component: (await import("./school/PeoplePage")).PeoplePage }),
          },
          {
            path: "school/devices",
            lazy: async () => ({ Component: (await import("./shots/DevicesPage")).DevicesPage }),
          },
          {
            path: "school/agreement",
            lazy: async () => ({
              Component: (await import("./shots/AgreementPage")).AgreementPage,
            }),
          },
          {
            path: "school/doubtful",
            lazy: async () => ({ Component: (await import("./shots/DoubtfulPage")).DoubtfulPage }),
          },
          {
            path: "school/files",
            lazy: async () => ({ Component: (await import("./shots/FilesPage")).FilesPage }),
          },
          { path: "bench", element: <Navigate to="/bench/flight" replace /> },
          {
            path: "bench/flight",
            lazy: async () => ({ Component: (await import("./reach/FlightPage")).FlightPage }),
          },
          {
            path: "bench/reach",
            lazy: async () => ({ Component: (await import("./reach/ReachPage")).ReachPage }),
          },
          {
            path: "bench/club",
            lazy: async () => ({ Component: (await import("./reach/ClubPage")).ClubPage }),
          },
          {
            path: "bench/club-length",
            lazy: async () => ({
              Component: (await import("./record/ClubLengthPage")).ClubLengthPage,
            }),
          },
          { path: "*", element: <NotHere /> },
        ],
      },
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
