import { useQuery } from "@tanstack/react-query";
import { api, take } from "../api/client";

/** The ready drivelines. */
export const useLayouts = () =>
  useQuery({
    queryKey: ["layouts"],
    queryFn: () => take(api.GET("/calc/layouts")),
    staleTime: Number.POSITIVE_INFINITY,
  });
