// First, and for all files: the client of the API takes the browser's fetch as it finds it.
import { server } from "./server";
import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";
import { queries } from "../api/queries";

configure({ asyncUtilTimeout: 10_000 });

afterEach(() => {
  cleanup();
  server.resetHandlers();
  queries.clear();
});
