import { Arrives } from "./arrives/Arrives";
import { Consent } from "./Consent";
import { ReadAs } from "./reading/ReadAs";
import { RouteContext, type RouteShown } from "./RouteContext";
import { Then } from "./rules/Then";
import { VisitorSees } from "./VisitorSees";

/** The bands of a route, in the order in which a submission travels; five where somebody waits. */
export function Bands(route: RouteShown) {
  const { kind } = route.source;
  return (
    <RouteContext value={route}>
      <Arrives />
      <ReadAs />
      <Consent />
      <Then />
      {(kind === "form" || kind === "posted") && <VisitorSees />}
    </RouteContext>
  );
}
