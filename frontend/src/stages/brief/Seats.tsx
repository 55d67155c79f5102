import { Choice, Quantity, RefusedHere } from "../../kit/fields";
import { ItemFieldset } from "../../kit/ItemFieldset";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";

const DIRECTIONS: [string, string][] = [
  ["read", "plays"],
  ["write", "writes"],
];

/** The seats: how many, what each plays or goes through, and how often it is at its peak. */
export function Seats() {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const seats = document.plan.brief.seats ?? [];
  const formats = document.catalogue?.formats ?? [];
  const options = formats.map((f): [string, string] => [f.id, f.name]);
  const add = (value: Record<string, unknown>, word: string) =>
    session.change({
      op: "add",
      path: "plan/brief/seats",
      value: { id: freshId(word, seats), count: 1, probability: 0.5, ...value },
    });
  return (
    <>
      {seats.map((seat) => {
        const path = `plan/brief/seats/${seat.id}`;
        return (
          <ItemFieldset
            key={seat.id}
            field={seat.kind === "footage" ? "FootageSeat.name" : "PhotoSeat.name"}
            path={path}
            name={seat.name}
          >
            {seat.kind === "footage" ? (
              <>
                <Quantity
                  bare
                  field="FootageSeat.count"
                  path={`${path}/count`}
                  label={`${seat.name}: seats`}
                />
                <span>seats, each</span>
                <Choice
                  bare
                  field="FootageSeat.direction"
                  path={`${path}/direction`}
                  options={DIRECTIONS}
                  label={`${seat.name}: plays or writes`}
                />
                <Quantity
                  bare
                  field="FootageSeat.streams"
                  path={`${path}/streams`}
                  label={`${seat.name}: streams`}
                />
                <span>streams of</span>
                <Choice
                  bare
                  field="FootageSeat.format_id"
                  path={`${path}/format_id`}
                  options={options}
                  label={`${seat.name}: format`}
                />
                <span>at peak</span>
                <Quantity
                  bare
                  field="FootageSeat.probability"
                  path={`${path}/probability`}
                  label={`${seat.name}: part of the day at peak`}
                />
              </>
            ) : (
              <>
                <Quantity
                  bare
                  field="PhotoSeat.count"
                  path={`${path}/count`}
                  label={`${seat.name}: seats`}
                />
                <span>seats, each</span>
                <Quantity
                  bare
                  field="PhotoSeat.images_per_s"
                  path={`${path}/images_per_s`}
                  label={`${seat.name}: pictures per second`}
                />
                <span>pictures/s of</span>
                <Quantity
                  bare
                  field="PhotoSeat.image_bytes"
                  path={`${path}/image_bytes`}
                  label={`${seat.name}: raw size`}
                />
                <span>MB, at peak</span>
                <Quantity
                  bare
                  field="PhotoSeat.probability"
                  path={`${path}/probability`}
                  label={`${seat.name}: part of the day at peak`}
                />
              </>
            )}
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/seats" />
      {mayWrite && (
        <p className="mt-2 flex gap-5">
          {formats[0] ? (
            <button
              type="button"
              className="text-button"
              onClick={() =>
                add(
                  {
                    kind: "footage",
                    name: "New seat",
                    direction: "read",
                    streams: 1,
                    format_id: formats[0]?.id,
                  },
                  "seat",
                )
              }
            >
              Add a footage seat
            </button>
          ) : (
            <span className="faint">Add a format below, then footage seats can play it.</span>
          )}
          <button
            type="button"
            className="text-button"
            onClick={() =>
              add(
                { kind: "photo", name: "New photo seat", image_bytes: 40_000_000, images_per_s: 1 },
                "photo",
              )
            }
          >
            Add a photo seat
          </button>
        </p>
      )}
    </>
  );
}
