import "@fontsource/atkinson-hyperlegible-next/latin-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-600.css";
import "@fontsource/atkinson-hyperlegible-mono/latin-400.css";
import "@fontsource/atkinson-hyperlegible-mono/latin-600.css";
import "./styles.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes, useParams } from "react-router";
import { PlanProvider } from "./api/plan";
import { Gate } from "./shell/Gate";
import { Glossary } from "./shell/Glossary";
import { apart } from "./shell/loading";
import { PlanFrame } from "./shell/PlanFrame";
import { PlanList } from "./shell/PlanList";
import { restoreTheme } from "./shell/theme";

restoreTheme();
const client = new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: 2 } } });

function OnePlan() {
  const { id = "" } = useParams();
  return (
    <PlanProvider id={id} key={id}>
      <PlanFrame />
    </PlanProvider>
  );
}

/** What engineers see; the crew has a page of its own. */
function Desk() {
  return (
    <Gate>
      <Routes>
        <Route path="/" element={<PlanList />} />
        <Route path="/glossary" element={<Glossary />} />
        <Route path="/plans/:id/:stage?/:page?" element={<OnePlan />} />
      </Routes>
    </Gate>
  );
}

const Crew = apart(() => import("./crew/Crew"));

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <Routes>
          <Route
            path="/crew"
            element={
              <Suspense>
                <Crew />
              </Suspense>
            }
          />
          <Route path="*" element={<Desk />} />
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
