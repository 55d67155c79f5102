import { AddItem } from "../../plan/AddItem";
import { AddWithFormat } from "./AddWithFormat";

const SEATS = "plan/brief/seats";
const PLAYING = [
  { path: SEATS, given: { kind: "footage" }, words: "Add a footage seat" },
  { path: SEATS, given: { kind: "remote" }, words: "Add a seat far away" },
];

/** A seat at once: one that plays footage is asked for its format in the same place. */
export function AddSeat() {
  return (
    <div className="mt-2">
      <AddWithFormat label="What it plays: find a format" offered={PLAYING}>
        <AddItem className="mr-5" path={SEATS} given={{ kind: "photo" }}>
          Add a photo seat
        </AddItem>
        <AddItem className="mr-5" path={SEATS} given={{ kind: "ingest" }}>
          Add an ingest station
        </AddItem>
      </AddWithFormat>
    </div>
  );
}
