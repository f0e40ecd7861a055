import { useMutation } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";

/** Where a member comes back to after agreeing over there: the code becomes a connection. */
export function Agreed() {
  const workspace = useSlug();
  const { service = "" } = useParams();
  const [params] = useSearchParams();
  const go = useNavigate();
  const reload = useReload();
  const code = params.get("code") ?? "";
  const state = params.get("state") ?? "";
  const finish = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/agreed", {
          params: { path: { workspace, service } },
          body: { code, state },
        }),
      ),
    onSuccess: async () => {
      await reload("services", "service", "catalogue");
      await go(`/w/${workspace}/services/${service}`, { replace: true });
    },
    onError: () => undefined,
  });
  const { mutate, isIdle } = finish;
  useEffect(() => {
    if (code && isIdle) mutate();
  }, [code, isIdle, mutate]);
  if (code && !finish.error) return <Loading error={undefined} />;
  return (
    <Sheet
      title="Not signed in"
      name="Not signed in"
      back={{ to: `/w/${workspace}/services/${service}`, label: "The service" }}
    >
      <Problem
        error={
          finish.error ??
          new Error("The service did not agree. Go back, and sign in over there once more.")
        }
      />
    </Sheet>
  );
}
