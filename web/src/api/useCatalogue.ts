import { useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";
import type { Catalogue } from "./types";

const NOTHING: Catalogue = {
  groups: [],
  fields: [],
  readings: [],
  combines: [],
  joins: [],
  materials: [],
  blends: [],
  layers: [],
  field_formats: [],
  colour_formats: [],
};

/** The lists that the service knows; they do not change while it runs. */
export function useCatalogue(): Catalogue {
  const { data } = useQuery({
    queryKey: ["catalogue"],
    queryFn: () => answered(api.GET("/api/catalogue")),
    staleTime: Infinity,
  });
  return data ?? NOTHING;
}
