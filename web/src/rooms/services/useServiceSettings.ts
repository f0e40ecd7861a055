import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { api, take, type Schemas } from "../../api/client";
import { serviceQuery } from "../../api/services";
import { useReload, useSlug } from "../../api/workspace";
import { useDraft } from "../../drafts/useDraft";
import type { Service } from "./queries";

type Settings = Schemas["ServiceSettings"];

/** The settings of a connection while they are edited: they save themselves. */
export function useServiceSettings(service: Service) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const { id } = service;
  const stored = useMemo(
    () => ({ document: service.settings, edits: service.version }),
    [service.settings, service.version],
  );
  const kept = useCallback(
    (answer: Service) => {
      client.setQueryData(serviceQuery(workspace, id).queryKey, answer);
      return { document: answer.settings, edits: answer.version };
    },
    [client, workspace, id],
  );
  const params = useMemo(() => ({ path: { workspace, service: id } }), [workspace, id]);
  const save = useCallback(
    async (document: Settings, based_on: string) => {
      const answer = kept(
        await take(
          api.PUT("/api/workspaces/{workspace}/services/{service}", {
            params,
            body: { ...document, based_on },
          }),
        ),
      );
      // Not waited for: what the caller does next would come after what somebody does meanwhile.
      void reload("services", "catalogue", "snags", "source");
      return answer;
    },
    [kept, params, reload],
  );
  const load = useCallback(
    async () =>
      kept(await take(api.GET("/api/workspaces/{workspace}/services/{service}", { params }))),
    [kept, params],
  );
  const draft = useDraft<Settings, string>(stored, save, load);
  const { edit } = draft;
  const change = (part: Partial<Settings>) => edit((before) => ({ ...before, ...part }));
  return { draft, load, settings: draft.document, change };
}

export type ServiceSettings = ReturnType<typeof useServiceSettings>;
