import "@fontsource-variable/archivo/wdth.css";
import "@fontsource-variable/source-sans-3/wght.css";
import "./app/look.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ComponentType, lazy, type ReactNode, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { keepAnswers } from "./app/kept-answers";
import { ThemeProvider } from "./app/theme";
import { Gate } from "./school/account/Gate";
import { Loading, NotHere } from "./ui/Notice";
import { PageBroke } from "./ui/PageBroke";

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: 1 } } });

// Who is not signed in yet needs no frame.
const Shell = lazy(async () => ({ default: (await import("./app/Shell")).Shell }));

/** A page whose code comes when it is looked at. */
function page<Name extends string>(
  load: () => Promise<Record<Name, ComponentType>>,
  name: Name,
): ReactNode {
  const Page = lazy(async (): Promise<{ default: ComponentType }> => {
    const there = await load();
    return { default: there[name] };
  });
  return <Page />;
}

const PlayerPage = lazy(async () => ({
  default: (await import("./school/players/PlayerPage")).PlayerPage,
}));
const Aids = lazy(async () => ({ default: (await import("./school/aids/Aids")).Aids }));

const router = createBrowserRouter([
  {
    path: "board",
    element: (
      <Suspense fallback={<Loading />}>
        {page(() => import("./session/board/BoardPage"), "BoardPage")}
      </Suspense>
    ),
    errorElement: <PageBroke />,
  },
  {
    path: "shared",
    element: (
      <Suspense fallback={<Loading />}>
        {page(() => import("./school/players/SharedPage"), "SharedPage")}
      </Suspense>
    ),
    errorElement: <PageBroke />,
  },
  {
    // A screen of its own: nothing beside it is touched by mistake.
    path: "sessions/:session/run",
    element: (
      <Gate>
        <Suspense fallback={<Loading />}>
          {page(() => import("./training/RunPage"), "RunPage")}
          <Aids />
        </Suspense>
      </Gate>
    ),
    errorElement: <PageBroke />,
  },
  {
    element: (
      <Gate>
        <Suspense fallback={<Loading />}>
          <Shell aids={<Aids buttons />} waiting={<Loading />} />
        </Suspense>
      </Gate>
    ),
    errorElement: <PageBroke />,
    children: [
      {
        // Within the frame, so that its ways lead on.
        errorElement: <PageBroke />,
        children: [
          { index: true, element: <Navigate to="/today" replace /> },
          {
            path: "today",
            element: page(() => import("./school/TodayPage"), "TodayPage"),
          },
          {
            path: "players",
            element: page(() => import("./school/players/PlayersPage"), "PlayersPage"),
          },
          { path: "players/:player", element: <PlayerPage /> },
          { path: "players/:player/sessions", element: <PlayerPage tab="sessions" /> },
          { path: "players/:player/bag", element: <PlayerPage tab="bag" /> },
          { path: "players/:player/programme", element: <PlayerPage tab="programme" /> },
          { path: "players/:player/about", element: <PlayerPage tab="about" /> },
          {
            path: "players/:player/prepare",
            element: page(() => import("./session/prepare/PreparePage"), "NewSessionPage"),
          },
          {
            path: "players/:player/card",
            element: page(() => import("./record/YardageCard"), "YardageCard"),
          },
          {
            path: "players/:player/compare",
            element: page(() => import("./trials/ComparePage"), "ComparePage"),
          },
          {
            path: "sessions/:session/prepare",
            element: page(() => import("./session/prepare/PreparePage"), "PreparePage"),
          },
          {
            path: "sessions/:session/warm-up",
            element: page(() => import("./session/warm-up/WarmUpPage"), "WarmUpPage"),
          },
          {
            path: "sessions/:session/hit",
            element: page(() => import("./session/hit/HitPage"), "HitPage"),
          },
          {
            path: "sessions/:session/read",
            element: page(() => import("./session/read/ReadPage"), "ReadPage"),
          },
          {
            path: "sessions/:session/decide",
            element: page(() => import("./trials/DecidePage"), "DecidePage"),
          },
          {
            path: "sessions/:session/page",
            element: page(() => import("./report/SessionPage"), "SessionPage"),
          },
          {
            path: "players/:player/page",
            element: page(() => import("./report/PeriodPage"), "PeriodPage"),
          },
          {
            path: "programmes",
            element: page(() => import("./training/ProgrammesPage"), "ProgrammesPage"),
          },
          {
            path: "house-rules",
            element: page(() => import("./school/rules/HouseRulesPage"), "HouseRulesPage"),
          },
          { path: "school", element: <Navigate to="/school/devices" replace /> },
          {
            path: "account",
            element: page(() => import("./school/account/AccountPage"), "AccountPage"),
          },
          {
            path: "school/record",
            element: page(() => import("./school/RecordPage"), "RecordPage"),
          },
          {
            path: "school/people",
            element: page(() => import("./school/PeoplePage"), "PeoplePage"),
          },
          {
            path: "school/devices",
            element: page(() => import("./shots/DevicesPage"), "DevicesPage"),
          },
          {
            path: "school/agreement",
            element: page(() => import("./shots/AgreementPage"), "AgreementPage"),
          },
          {
            path: "school/doubtful",
            element: page(() => import("./shots/DoubtfulPage"), "DoubtfulPage"),
          },
          {
            path: "school/files",
            element: page(() => import("./shots/FilesPage"), "FilesPage"),
          },
          { path: "bench", element: <Navigate to="/bench/flight" replace /> },
          {
            path: "bench/flight",
            element: page(() => import("./reach/FlightPage"), "FlightPage"),
          },
          {
            path: "bench/reach",
            element: page(() => import("./reach/ReachPage"), "ReachPage"),
          },
          {
            path: "bench/club",
            element: page(() => import("./reach/ClubPage"), "ClubPage"),
          },
          {
            path: "bench/club-length",
            element: page(() => import("./record/ClubLengthPage"), "ClubLengthPage"),
          },
          { path: "*", element: <NotHere /> },
        ],
      },
    ],
  },
]);

const root = document.getElementById("root");
if (root) {
  await keepAnswers(queries);
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
