import { lazy, Suspense, useEffect } from 'react';
import { Group, Panel, Separator, usePanelRef } from 'react-resizable-panels';
import { Gauges } from '../bench/Gauges';
import { Sheet } from '../bench/Sheet';
import { BoardPane } from '../board/Board';
import { useBench } from '../state/bench';
import { useProject } from '../state/project';

// The stage brings the drawing library: the bench is painted before it arrives.
const Stage = lazy(() => import('../stage/Stage').then((m) => ({ default: m.Stage })));

/** The bench: sheet, stage over board, gauges. */
export function BenchPage() {
  const project = useProject((s) => s.project);
  const board = usePanelRef();
  const tall = useBench((s) => s.tallBoard);
  useEffect(() => board.current?.resize(tall ? '74%' : '40%'), [tall, board]);
  if (!project) return null;
  return (
    <Group orientation="horizontal" className="h-full">
      <Panel defaultSize="27%" minSize="220px" maxSize="45%" collapsible collapsedSize="0px">
        <Sheet project={project} />
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the sheet" />
      <Panel minSize="30%">
        <Group orientation="vertical" className="h-full">
          <Panel defaultSize="60%" minSize="120px">
            <Suspense fallback={<div className="h-full bg-stage" />}>
              <Stage project={project} />
            </Suspense>
          </Panel>
          <Separator className="h-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Height of the board" />
          <Panel panelRef={board} minSize="36px" collapsible collapsedSize="0px">
            <BoardPane project={project} />
          </Panel>
        </Group>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the gauges" />
      <Panel defaultSize="19%" minSize="170px" maxSize="34%" collapsible collapsedSize="0px">
        <Gauges project={project} />
      </Panel>
    </Group>
  );
}
