// How far what takes long is: asked now and then, while it is waited for.
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import { useSession } from "./plan";

/** What is being done, in words, "" while nothing is or nobody waits. */
export function useWorking(waiting: boolean): string {
  const { view } = useSession();
  const { data } = useQuery({
    queryKey: ["working", view.id, view.rests],
    queryFn: () => api.working(view.id, view.revision),
    enabled: waiting,
    refetchInterval: 1000,
    retry: false,
  });
  return waiting && data ? `${data.what}: station ${data.done + 1} of ${data.of}` : "";
}
