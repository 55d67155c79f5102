import type { Option } from "../../plan/fields";
import { AddSeat } from "./AddSeat";
import { FormatField } from "./FormatField";
import { useFormatOptions } from "../../plan/useFormatOptions";
import { useHomes, useMounts } from "../../plan/useHomes";
import { fieldsIn } from "../../plan/AllFields";
import { Choice, Quantity, RefusedHere, Tick } from "../../plan/fields";
import { ItemFieldset, RemoveItem } from "../../plan/ItemFieldset";
import type { FieldName } from "../../kit/quantity";
import { useSnapshot } from "../../plan/context";
import type { PlanDocument } from "../../api/client";
import { AddItem } from "../../plan/AddItem";
import { More } from "../../kit/Fold";

const DIRECTIONS: [string, string][] = [
  ["read", "plays"],
  ["write", "writes"],
];
const WHERE: [string, string][] = [
  ["office", "in the office"],
  ["inside", "inside the box"],
];

type AnySeat = NonNullable<PlanDocument["plan"]["brief"]["seats"]>[number];
type Of<K extends AnySeat["kind"]> = Extract<AnySeat, { kind: K }>;

const MODEL: Record<AnySeat["kind"], string> = {
  footage: "FootageSeat",
  photo: "PhotoSeat",
  ingest: "IngestSeat",
  remote: "RemoteSeat",
};

interface Props<K extends AnySeat["kind"]> {
  seat: Of<K>;
  path: string;
  formats: readonly Option[];
}

/** The seats: how many, what each plays, writes or goes through, and how often it is at its peak. */
export function Seats() {
  const { document } = useSnapshot();
  const seats = document.plan.brief.seats ?? [];
  const formats = useFormatOptions();
  return (
    <>
      {seats.map((seat) => {
        const path = `plan/brief/seats/${seat.id}`;
        return (
          <ItemFieldset
            key={seat.id}
            field={`${MODEL[seat.kind]}.name` as FieldName}
            path={path}
            name={seat.name}
          >
            {seat.kind === "footage" && <Footage seat={seat} path={path} formats={formats} />}
            {seat.kind === "photo" && <Photo seat={seat} path={path} formats={formats} />}
            {seat.kind === "ingest" && <Ingest seat={seat} path={path} formats={formats} />}
            {seat.kind === "remote" && <Remote seat={seat} path={path} formats={formats} />}
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/seats" />
      <AddSeat />
    </>
  );
}

function Footage({ seat, path, formats }: Props<"footage">) {
  const its = fieldsIn("FootageSeat", path, seat.name);
  return (
    <>
      {its("count", "seats")}
      <span>{seat.count === 1 ? "seat that" : "seats, each"}</span>
      {its("direction", "plays or writes", DIRECTIONS)}
      {its("streams", "streams")}
      <span>{seat.streams === 1 ? "stream of" : "streams of"}</span>
      <FormatField
        field="FootageSeat.format_id"
        path={`${path}/format_id`}
        item={seat.name}
        formats={formats}
      />
      <AtPeak its={its} />
      <More of={seat.name}>
        <Quantity field="FootageSeat.angles" path={`${path}/angles`} />
        <Quantity field="FootageSeat.shuttle_factor" path={`${path}/shuttle_factor`} />
        <Quantity field="FootageSeat.archive_share" path={`${path}/archive_share`} />
        <Quantity field="FootageSeat.decoded_streams_max" path={`${path}/decoded_streams_max`} />
        <Choice field="FootageSeat.seated" path={`${path}/seated`} options={WHERE} />
        <WorksOn seat={seat} path={path} />
        <OddsByPart seat={seat} path={path} />
        <Activities seat={seat} path={path} formats={formats} />
      </More>
    </>
  );
}

/** What the seat does besides playing: renders, exports, previews, proxies. */
function Activities({ seat, path, formats }: Props<"footage">) {
  const activities = seat.activities ?? [];
  return (
    <>
      {activities.map((activity) => {
        const at = `${path}/activities/${activity.id}`;
        const its = fieldsIn("Activity", at, `${seat.name}, ${activity.name}`);
        return (
          <ItemFieldset key={activity.id} field="Activity.name" path={at} name={activity.name}>
            {its("direction", "plays or writes", DIRECTIONS)}
            {its("streams", "streams")}
            <span>{activity.streams === 1 ? "stream of" : "streams of"}</span>
            {its("format_id", "format", formats)}
            <span>at</span>
            {its("speed_factor", "times real time")}
            <span>× real time</span>
          </ItemFieldset>
        );
      })}
      <AddItem className="mt-1 text-sm" path={`${path}/activities`}>
        Add renders, previews or proxies to {seat.name}
      </AddItem>
    </>
  );
}

function Photo({ seat, path }: Props<"photo">) {
  const its = fieldsIn("PhotoSeat", path, seat.name);
  return (
    <>
      {its("count", "seats")}
      <span>{seat.count === 1 ? "seat at" : "seats, each at"}</span>
      {its("images_per_s", "pictures per second")}
      <span>{seat.images_per_s === 1 ? "picture/s of" : "pictures/s of"}</span>
      {its("image_bytes", "raw size")}
      <span>MB,</span>
      <AtPeak its={its} />
      <More of={seat.name}>
        <Quantity field="PhotoSeat.exports_per_s" path={`${path}/exports_per_s`} />
        <Quantity field="PhotoSeat.export_bytes" path={`${path}/export_bytes`} />
        <Quantity field="PhotoSeat.tethered_per_s" path={`${path}/tethered_per_s`} />
        <Choice field="PhotoSeat.seated" path={`${path}/seated`} options={WHERE} />
        <WorksOn seat={seat} path={path} />
        <OddsByPart seat={seat} path={path} />
      </More>
    </>
  );
}

function Ingest({ seat, path }: Props<"ingest">) {
  const its = fieldsIn("IngestSeat", path, seat.name);
  return (
    <>
      {its("count", "stations")}
      <span>{seat.count === 1 ? "station with" : "stations, each"}</span>
      {its("readers", "card readers at once")}
      <span>{seat.readers === 1 ? "card reader of" : "card readers of"}</span>
      {its("card_bytes_per_s", "what a card gives")}
      <span>MB/s,</span>
      <AtPeak its={its} />
      <More of={seat.name}>
        <Quantity field="IngestSeat.copies_here" path={`${path}/copies_here`} />
        <Tick field="IngestSeat.verifies" path={`${path}/verifies`} />
        <Choice field="IngestSeat.seated" path={`${path}/seated`} options={WHERE} />
        <WorksOn seat={seat} path={path} />
        <OddsByPart seat={seat} path={path} />
      </More>
    </>
  );
}

function Remote({ seat, path, formats }: Props<"remote">) {
  const its = fieldsIn("RemoteSeat", path, seat.name);
  return (
    <>
      {its("count", "seats")}
      <span>{seat.count === 1 ? "seat far away by" : "seats far away by"}</span>
      {its("way", "way of working")}
      <span>on</span>
      <FormatField
        field="RemoteSeat.format_id"
        path={`${path}/format_id`}
        item={seat.name}
        formats={formats}
      />
      <AtPeak its={its} />
      <More of={seat.name}>
        <Quantity field="RemoteSeat.footage_hours_per_day" path={`${path}/footage_hours_per_day`} />
        <Quantity field="RemoteSeat.down_bytes_per_s" path={`${path}/down_bytes_per_s`} />
        <Quantity field="RemoteSeat.round_trip_ms" path={`${path}/round_trip_ms`} />
        <Quantity field="RemoteSeat.picture_bytes_per_s" path={`${path}/picture_bytes_per_s`} />
        <WorksOn seat={seat} path={path} />
        <OddsByPart seat={seat} path={path} />
      </More>
    </>
  );
}

/** How much of the time. */
function AtPeak({ its }: { its: ReturnType<typeof fieldsIn> }) {
  return (
    <span className="inline-flex flex-wrap items-center gap-x-2">
      at peak
      {its("probability", "part of the day at peak")}% of the time
    </span>
  );
}

/** The pool that the seat's bytes lie in, where there is more than one for work, and the address it mounts. */
function WorksOn({ seat, path }: { seat: AnySeat; path: string }) {
  const homes = useHomes();
  const mounts = useMounts();
  const field = (name: string) => `${MODEL[seat.kind]}.${name}` as FieldName;
  return (
    <>
      {(homes.length > 0 || seat.works_on) && (
        <Choice field={field("works_on")} path={`${path}/works_on`} options={homes} />
      )}
      {(mounts.length > 0 || seat.mounts_by) && (
        <Choice field={field("mounts_by")} path={`${path}/mounts_by`} options={mounts} />
      )}
    </>
  );
}

/** At peak in a part of the day otherwise than in the others. */
function OddsByPart({ seat, path }: { seat: AnySeat; path: string }) {
  const { document } = useSnapshot();
  const parts = document.plan.brief.day_parts ?? [];
  const own = seat.at_peak ?? [];
  return parts.map((part) => {
    const at = `${path}/at_peak/${part.id}`;
    const label = `At peak in ${part.name}`;
    if (own.some((odds) => odds.id === part.id)) {
      return (
        <div key={part.id} className="flex items-center gap-2">
          <div className="grow">
            <Quantity field="PartOdds.probability" path={`${at}/probability`} label={label} />
          </div>
          <RemoveItem path={at} name={`${label}: as in the other parts`} />
        </div>
      );
    }
    return (
      <AddItem
        key={part.id}
        className="mr-4 text-sm"
        path={`${path}/at_peak`}
        given={{ id: part.id }}
      >
        Otherwise in {part.name}
        <span className="sr-only">: {seat.name}</span>
      </AddItem>
    );
  });
}
