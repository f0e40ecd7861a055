import { Arrives } from "./arrives/Arrives";
import type { BandsProps } from "./BandsProps";
import { Consent } from "./Consent";
import { ReadAs } from "./reading/ReadAs";
import { Then } from "./rules/Then";
import { VisitorSees } from "./VisitorSees";

/** The bands of a route, in the order in which a submission travels; five where somebody waits. */
export function Bands(props: BandsProps) {
  return (
    <>
      <Arrives {...props} />
      <ReadAs {...props} />
      <Consent {...props} />
      <Then {...props} />
      {(props.source.kind === "form" || props.source.kind === "posted") && (
        <VisitorSees {...props} />
      )}
    </>
  );
}
