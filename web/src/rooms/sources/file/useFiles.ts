import { follows } from "../../../api/stream";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { filesQuery } from "../../../api/sources";
import { api, asIs, take, type Schemas } from "../../../api/client";
import { useReload, useSlug } from "../../../api/workspace";

export type FileOut = Schemas["FileOut"];
const PART = 1024 * 1024;

/** Whether something happens to a file in the background. */
export function isWorking(file: FileOut): boolean {
  return file.state === "reading" || file.state === "counting" || file.state === "running";
}

/** Whether its first rows are shown. */
export function showsRows(file: FileOut): boolean {
  return file.state !== "arriving" && file.state !== "reading" && file.state !== "done";
}

/** The files of a source, the newest first, and what can be done with them. */
export function useFiles(source: string) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const { data = [] } = useQuery({
    ...filesQuery(workspace, source),
    ...follows(["files"], 700),
  });
  const again = async () => {
    await client.invalidateQueries({ queryKey: filesQuery(workspace, source).queryKey });
    await reload("seen", "source", "submissions");
  };

  /** Sends a file by parts; `onPart` is told how much of it is there, from 0 to 1. */
  const send = async (file: File, onPart: (share: number) => void) => {
    const begun = await take(
      api.POST("/api/workspaces/{workspace}/sources/{source}/files", {
        params: { path: { workspace, source } },
        body: { name: file.name, size: file.size },
      }),
    );
    for (let number = 0; number * PART < file.size; number += 1) {
      await take(
        api.PUT("/api/workspaces/{workspace}/files/{file}/parts/{number}", {
          params: { path: { workspace, file: begun.id, number } },
          ...asIs(file.slice(number * PART, (number + 1) * PART), "application/octet-stream"),
        }),
      );
      onPart(Math.min(1, ((number + 1) * PART) / file.size));
    }
    await again();
  };
  const shape = async (file: string, body: Schemas["TableShape"]) => {
    await take(
      api.PUT("/api/workspaces/{workspace}/files/{file}/shape", {
        params: { path: { workspace, file } },
        body,
      }),
    );
    await again();
  };
  const act = async (file: string, what: "count" | "cancel" | "go-on") => {
    await take(
      api.POST(`/api/workspaces/{workspace}/files/{file}/${what}`, {
        params: { path: { workspace, file } },
      }),
    );
    await again();
  };
  const run = async (file: string, consent: string) => {
    await take(
      api.POST("/api/workspaces/{workspace}/files/{file}/run", {
        params: { path: { workspace, file } },
        body: { consent },
      }),
    );
    await again();
  };
  return { files: data, send, shape, act, run };
}
