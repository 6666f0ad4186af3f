// Every rope system of one station, asked for once and shared by all that shows it.
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import type { Comparison } from "../api/types.gen";
import { sameBefore } from "./before";
import type { Drop } from "./model";
import { useSession } from "./plan";
import { useWhich } from "./which";

export function useSystems(drop: Drop, wanted = true) {
  const { view, draft } = useSession();
  const which = useWhich();
  const key = ["systems", view.id, view.rests, drop.id, which];
  return useQuery<Comparison>({
    queryKey: key,
    queryFn: ({ signal }) => api.systems(view.id, view.revision, drop.id, which, signal),
    staleTime: Infinity,
    placeholderData: sameBefore(...key),
    enabled: wanted && draft === null,
  });
}
