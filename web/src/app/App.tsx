/** The shell: every address and the view that stands there, behind one error boundary. */
import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useSyncExternalStore } from "react";
import { BrowserRouter, Link, Navigate, Route, Routes, useLocation, useParams } from "react-router";
import { api, must, Refused } from "../api/client";
import { drawnTimes, onDrawnAnew } from "../drawing/units";
import { PlanView } from "../views/plan/PlanView";
import { ErrorBoundary } from "../parts/ErrorBoundary";
import { Unsaved } from "../parts/Save";

// What is opened later is loaded later; the view before stays until it is there.
const BuildsView = lazy(async () => ({ default: (await import("../views/builds/BuildsView")).BuildsView }));
const MixAndSprayView = lazy(async () => ({
  default: (await import("../views/mix-and-spray/MixAndSprayView")).MixAndSprayView,
}));
const AtTheBenchView = lazy(async () => ({
  default: (await import("../views/at-the-bench/AtTheBenchView")).AtTheBenchView,
}));
const LogView = lazy(async () => ({ default: (await import("../views/log/LogView")).LogView }));
const ShelfView = lazy(async () => ({ default: (await import("../views/shelf/ShelfView")).ShelfView }));
const WithoutPlanView = lazy(async () => ({
  default: (await import("../views/mix-and-spray/WithoutPlanView")).WithoutPlanView,
}));
const SittingsView = lazy(async () => ({
  default: (await import("../views/sittings/SittingsView")).SittingsView,
}));
const PaperView = lazy(async () => ({ default: (await import("../views/paper/PaperView")).PaperView }));
const CompendiumView = lazy(async () => ({
  default: (await import("../views/compendium/CompendiumView")).CompendiumView,
}));

const VISITED = "emvar-visited";
const FIRST_SEEN = "demo-harbour-tug";
/** What does not answer is asked again until it does; what is refused is not. */
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      retry: (_, error) => !(error instanceof Refused) || error.status >= 500,
      retryDelay: 1500,
      networkMode: "always",
    },
  },
});

/** The first time, straight to the build with something worth mending in it; later the list. */
function Door() {
  const first = !localStorage.getItem(VISITED);
  const { data, failureCount } = useQuery({
    queryKey: ["builds"],
    queryFn: async () => must(await api.GET("/api/builds")),
    enabled: first,
  });
  if (!first) return <BuildsView />;
  if (!data) return failureCount ? <BuildsView /> : null;
  localStorage.setItem(VISITED, "yes");
  const demo = data.find((b) => b.id === FIRST_SEEN);
  return demo ? <Navigate to={`/build/${demo.id}`} replace /> : <BuildsView />;
}

/** Where a view stood under another address before: what was kept there still leads to it. */
function Moved(p: { to: string }) {
  const { id, step } = useParams();
  return <Navigate to={`/build/${id}/${p.to}${step ? `/${step}` : ""}`} replace />;
}

function Lost() {
  return (
    <main className="p-10">
      <h1 className="text-xl font-semibold">There is nothing at this address</h1>
      <Link className="underline" to="/">
        To the builds
      </Link>
    </main>
  );
}

function Views() {
  return (
    <ErrorBoundary at={useLocation().pathname}>
      <Suspense fallback={<main aria-busy="true" />}>
        <Routes>
          <Route path="/" element={<Door />} />
          <Route path="/build/:id" element={<PlanView table={false} />} />
          <Route path="/build/:id/table" element={<PlanView table />} />
          <Route path="/build/:id/mix-and-spray/:step?" element={<MixAndSprayView />} />
          <Route path="/build/:id/at-the-bench" element={<AtTheBenchView />} />
          <Route path="/build/:id/log" element={<LogView />} />
          <Route path="/log" element={<LogView />} />
          <Route path="/build/:id/sittings" element={<SittingsView />} />
          <Route path="/build/:id/paper/:what/:of?" element={<PaperView />} />
          <Route path="/shelf" element={<ShelfView />} />
          <Route path="/bench" element={<Navigate to="/mix-and-spray" replace />} />
          <Route path="/build/:id/now" element={<Moved to="at-the-bench" />} />
          <Route path="/build/:id/bench/:step?" element={<Moved to="mix-and-spray" />} />
          <Route path="/mix-and-spray" element={<WithoutPlanView />} />
          <Route path="/compendium" element={<CompendiumView />} />
          <Route path="*" element={<Lost />} />
        </Routes>
      </Suspense>
    </ErrorBoundary>
  );
}

export function App() {
  const drawn = useSyncExternalStore(onDrawnAnew, drawnTimes);
  return (
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Views key={drawn} />
        <Unsaved />
      </BrowserRouter>
    </QueryClientProvider>
  );
}
