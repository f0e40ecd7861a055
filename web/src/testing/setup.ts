// First, and for all files: the client of the API takes the browser's fetch as it finds it.
import { server } from "./server";
import { cleanup } from "@testing-library/react";
import { afterEach } from "vitest";
import { queries } from "../api/queries";

afterEach(() => {
  cleanup();
  server.resetHandlers();
  queries.clear();
});
