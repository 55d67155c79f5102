import { lazy, Suspense, useCallback, useEffect, useRef, useState } from "react";
import { useParams } from "react-router";
import { ClashPanel } from "./ClashPanel";
import { usePlanTools, useSnapshot } from "./context";
import { Find } from "./Find";
import { FrameHead } from "./FrameHead";
import { OpenPath } from "./OpenPath";
import { useFocusAtPlace } from "./place";
import type { Panel } from "./panel";
import { ScalesStrip } from "./Scales";
import { StageList } from "./StageList";
import { VIEWS } from "./stages";
import { useCommandKeys, useCommands } from "./useCommands";
import { Notice, Waiting } from "../kit/Notice";
import { Button } from "../kit/Button";
import { writeNumbers } from "../kit/format";

const ExplainPanel = lazy(() =>
  import("./ExplainPanel").then((m) => ({ default: m.ExplainPanel })),
);
const FindingsPanel = lazy(() =>
  import("./FindingsPanel").then((m) => ({ default: m.FindingsPanel })),
);
const HelpPanel = lazy(() => import("./HelpPanel").then((m) => ({ default: m.HelpPanel })));
const HistoryPanel = lazy(() =>
  import("./HistoryPanel").then((m) => ({ default: m.HistoryPanel })),
);

/** The frame around a plan: head, stages, the stage itself, panels, and the scales that never leave. */
export function Frame({ panel, setPanel }: { panel: Panel; setPanel: (panel: Panel) => void }) {
  const { session } = usePlanTools();
  const { document, notice } = useSnapshot();
  const { stage = "brief" } = useParams();
  const [finding, setFinding] = useState(false);
  const find = useCallback(() => setFinding(true), []);
  const close = useCallback(() => setPanel(null), [setPanel]);
  const commands = useCommands(setPanel);
  useCommandKeys(commands, find, close);
  useEffect(() => {
    window.document.title = `${document.plan.name} · Grand Larder`;
  }, [document.plan.name]);
  useFocusAtPlace();
  const main = useRef<HTMLElement>(null);
  useEffect(() => {
    main.current?.scrollTo(0, 0);
  }, [stage]);
  const numbers = document.writing?.numbers;
  writeNumbers(numbers);
  const View = (VIEWS.find((v) => v.id === stage) ?? VIEWS[0])?.Component;
  return (
    <div className="frame">
      <FrameHead find={find} />
      <StageList setPanel={setPanel} />
      <div className="relative min-h-0 min-w-0">
        <main ref={main} className="relative h-full overflow-y-auto">
          <OpenPath />
          <ClashPanel />
          {notice && (
            <Notice>
              <span>{notice}</span>
              <Button look="text" onClick={() => session.dismissNotice()}>
                Dismiss
              </Button>
            </Notice>
          )}
          <Suspense fallback={<Waiting className="p-6">Opening …</Waiting>}>
            {View && <View key={numbers} />}
          </Suspense>
        </main>
        {finding && (
          <Find commands={commands} setPanel={setPanel} onClose={() => setFinding(false)} />
        )}
        <Panels panel={panel} close={close} />
      </div>
      <footer className="frame-scales">
        <ScalesStrip key={numbers} />
      </footer>
    </div>
  );
}

/** What lies over the right edge of the stage, loaded when it is first opened. */
function Panels({ panel, close }: { panel: Panel; close: () => void }) {
  return (
    <Suspense fallback={null}>
      {panel?.kind === "explain" && <ExplainPanel figureId={panel.figureId} onClose={close} />}
      {panel?.kind === "findings" && <FindingsPanel at={panel.key} onClose={close} />}
      {panel?.kind === "history" && <HistoryPanel onClose={close} />}
      {panel?.kind === "help" && <HelpPanel onClose={close} />}
    </Suspense>
  );
}
