import { client, dataOf } from "../../api/client";
import { ClassChoice } from "../../kit/ClassChoice";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { useTaken } from "../../plan/useTaken";

/** The class of a pool's drives; choosing another swaps all of them in one change. */
export function DriveClass({ poolId, driveId }: { poolId: string; driveId: string }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const { problem, take } = useTaken();
  const drives = document.catalogue?.drives ?? [];
  if (!drives.length) return null;
  const swap = (id: string) =>
    take(async () => {
      if (!id) return [{ op: "set", path: `plan/pools/${poolId}/drive_id`, value: "" }];
      const rows = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/swap", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, pool_id: poolId },
        }),
      );
      const row = rows.find((each) => each.drive_id === id);
      if (row?.why_not) throw new Error(`${row.words} would need ${row.why_not}.`);
      return row?.patch ?? [];
    });
  return (
    <ClassChoice
      id={`class-${poolId}`}
      label="Class of drive"
      classes={drives}
      value={driveId}
      disabled={!mayWrite}
      problem={problem}
      onChoose={swap}
    />
  );
}
