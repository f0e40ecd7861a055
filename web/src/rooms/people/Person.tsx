import { counted } from "../../parts/formats";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { HandoffsOf } from "../services/HandoffsOf";
import { useParams } from "react-router";
import { ApiError } from "../../api/client";
import { personQuery } from "../../api/people";
import { useCatalogue, useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Because } from "../../parts/Because";
import { Causes } from "../../parts/Causes";
import { byOrigin, readsSame } from "../../parts/origin";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { Tasks } from "../../parts/Tasks";
import { FieldsByHand } from "./FieldsByHand";
import { MergesToUndo } from "./MergesToUndo";
import { PersonActions } from "./PersonActions";
import { TagsByHand } from "./TagsByHand";
import { Runs } from "./Runs";
import { TakeOff } from "./TakeOff";
import { Trail } from "./Trail";

/** One person: what is known, each with its because, and the trail. */
export function Person() {
  const workspace = useSlug();
  const { person = "" } = useParams();
  const moments = useMoments();
  const mayChange = useMayChange();
  const { data: catalogue } = useCatalogue();
  const [changing, setChanging] = useState<"fields" | "tags">();
  const done = (what: "fields" | "tags") => () =>
    setChanging((now) => (now === what ? undefined : now));
  const { data, error } = useQuery(personQuery(workspace, person));
  // Somebody who was erased meanwhile is not shown any longer.
  const gone = error instanceof ApiError && error.status === 404;
  if (!data || gone) return <Loading error={error} />;
  return (
    <Sheet
      title={data.name || data.address}
      name={data.name || data.address}
      back={{ to: `/w/${workspace}/people`, label: "People" }}
      state={
        <Typography variant="body2" color="textSecondary">
          {data.name && `${data.address} · `}since {moments.moment(data.added_at)}
          {data.score !== 0 && ` · score ${data.score}`}
          {data.owner && ` · looked after by ${data.owner}`}
          {data.gap_days > 0 && ` · at most one email in ${counted(data.gap_days, "day", "days")}`}
          {data.is_test && " · made by a test, counted nowhere"}
        </Typography>
      }
      actions={<PersonActions person={data} />}
    >
      <MergesToUndo person={person} />
      <Tasks person={person} />
      <Band name="Lists" note={data.memberships.length ? "" : "none"}>
        {data.memberships.length === 0 && <BandRow>On no list.</BandRow>}
        {data.memberships.map((one, index) => (
          <BandRow key={one.list} ruled={index > 0}>
            <Typography>
              {one.list} <StateWord state={one.state} /> {moments.moment(one.changed_at)}{" "}
              <Because because={one.because} />{" "}
              {mayChange && ["subscribed", "pending"].includes(one.state) && (
                <TakeOff person={data.id} membership={one} />
              )}
            </Typography>
            {one.evidence.map((proof, number) => (
              <Typography key={number} variant="body2" color="textSecondary">
                {moments.moment(proof.at)}: {proof.before} → {proof.after}
                {proof.wording && `; agreed to “${proof.wording}”`}
                {proof.page && ` on ${proof.page}`}{" "}
                {!readsSame(proof.because, one.because) && <Because because={proof.because} />}
              </Typography>
            ))}
          </BandRow>
        ))}
      </Band>
      <Band name="Fields" note={data.fields.length ? "" : "none"}>
        {changing === "fields" && catalogue ? (
          <FieldsByHand person={data} fields={catalogue.fields} onDone={done("fields")} />
        ) : (
          <>
            {data.fields.length === 0 && <BandRow>Nothing but the address is known.</BandRow>}
            {byOrigin(data.fields).map((group, index) => (
              <BandRow key={group[0].key} ruled={index > 0}>
                <Causes
                  of={group}
                  name={(one) => one.key}
                  says={(one) => (
                    <>
                      {one.label}: <strong>{one.value}</strong>
                    </>
                  )}
                />
              </BandRow>
            ))}
            {mayChange && (
              <Button onClick={() => setChanging("fields")} sx={{ ml: 0.75, mt: 0.5 }}>
                Change the fields
              </Button>
            )}
          </>
        )}
      </Band>
      <Band name="Tags" note={data.tags.length ? "" : "none"}>
        {changing === "tags" && catalogue ? (
          <TagsByHand person={data} tags={catalogue.tags} onDone={done("tags")} />
        ) : (
          <>
            {data.tags.length === 0 && <BandRow>No tags.</BandRow>}
            {byOrigin(data.tags).map((group, index) => (
              <BandRow key={group[0].id} ruled={index > 0}>
                <Causes
                  of={group}
                  name={(one) => one.id}
                  says={(one) => <strong>{one.name}</strong>}
                />
              </BandRow>
            ))}
            {mayChange && (
              <Button onClick={() => setChanging("tags")} sx={{ ml: 0.75, mt: 0.5 }}>
                Change the tags
              </Button>
            )}
          </>
        )}
      </Band>
      <Runs person={person} />
      <HandoffsOf person={person} />
      <Trail person={person} />
    </Sheet>
  );
}
