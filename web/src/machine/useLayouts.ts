import { useQuery } from "@tanstack/react-query";
import { api, take } from "../api/client";
import { key } from "../api/keys";

/** The ready drivelines. */
export const useLayouts = () =>
  useQuery({
    queryKey: key.layouts(),
    queryFn: () => take(api.GET("/calc/layouts")),
    staleTime: Number.POSITIVE_INFINITY,
  });
