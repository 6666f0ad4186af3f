// Every rope system of one station, asked for once and shared by all that shows it.
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import type { Comparison } from "../api/types.gen";
import type { Drop } from "./model";
import { useDragging, useSession } from "./plan";
import { sameBefore } from "./same";
import { useWhich } from "./which";

export function useSystems(drop: Drop, wanted = true) {
  const { view } = useSession();
  const dragging = useDragging();
  const which = useWhich();
  const key = ["systems", view.id, view.rests, drop.id, which];
  return useQuery<Comparison>({
    queryKey: key,
    queryFn: ({ signal }) => api.systems(view.id, view.revision, drop.id, which, signal),
    staleTime: Infinity,
    placeholderData: sameBefore(key),
    enabled: wanted && !dragging,
  });
}
