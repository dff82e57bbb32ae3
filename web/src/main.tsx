import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { Toaster } from "sonner";
import { Shelf } from "./shelf/Shelf";
import { Studio } from "./studio/Studio";
import "./theme.css";

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1 } } });

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<Shelf />} />
            <Route path="/landscapes/:id" element={<Studio />} />
          </Routes>
        </BrowserRouter>
        <Toaster position="bottom-center" richColors closeButton />
      </QueryClientProvider>
    </StrictMode>,
  );
}
