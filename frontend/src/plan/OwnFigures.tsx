import { Button } from "../kit/Button";
import { Problem } from "../kit/Problem";
import { usePlanTools, useSnapshot } from "./context";
import { useClass } from "./useClass";

/** What items keep of their own where their class says otherwise, each with the press that takes the class's. */
export function OwnFigures({ path, classId }: { path?: string; classId?: string }) {
  const { own_figures } = useSnapshot().evaluation;
  const { mayWrite } = usePlanTools();
  const { problem, takeClass } = useClass();
  const kept = own_figures.filter((each) => each.path === path || each.class_id === classId);
  if (!kept.length) return null;
  return (
    <>
      <ul className="my-2 space-y-1 text-sm" aria-label="Figures of its own">
        {kept.map((each) => (
          <li key={each.path}>
            {classId ? `${each.name} keeps` : "Keeps"} its own{" "}
            {each.figures
              .map(({ label, own, of_class }) => `${inWords(label)}: ${own} (class: ${of_class})`)
              .join("; ")}
            .{" "}
            {mayWrite && (
              <Button
                look="text"
                aria-label={`Take the figures of ${each.class_name} for ${each.name}`}
                onClick={() => takeClass(each.path, each.class_id)}
              >
                Take the class’s
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Problem of={problem} />
    </>
  );
}

/** A label in the midst of a line. */
const inWords = (label: string) =>
  /^[A-Z][a-z ]/.test(label) ? label.charAt(0).toLowerCase() + label.slice(1) : label;
