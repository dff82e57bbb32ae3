import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { Toaster } from "sonner";
import { NotHere } from "./shelf/NotHere";
import { Shelf } from "./shelf/Shelf";
import { applyPreferences } from "./studio/preferences";
import "./theme.css";

// The studio with all that draws land comes when a landscape is opened.
const Studio = lazy(async () => ({ default: (await import("./studio/Studio")).Studio }));

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1 } } });

applyPreferences();

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<Shelf />} />
            <Route
              path="/landscapes/:id"
              element={
                <Suspense fallback={<p className="p-4 text-sm">Opening …</p>}>
                  <Studio />
                </Suspense>
              }
            />
            <Route path="*" element={<NotHere />} />
          </Routes>
        </BrowserRouter>
        <Toaster position="bottom-center" richColors closeButton />
      </QueryClientProvider>
    </StrictMode>,
  );
}
