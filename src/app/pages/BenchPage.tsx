import { useEffect } from 'react';
import { Group, Panel, Separator, usePanelRef } from 'react-resizable-panels';
import { Gauges } from '../bench/Gauges';
import { Sheet } from '../bench/Sheet';
import { BoardPane } from '../board/Board';
import { useBench } from '../state/bench';
import { useProject } from '../state/project';
import { Pane } from '../ui/Pane';
import { Stage } from './StageLater';

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
        <Pane called="The sheet">
          <Sheet project={project} />
        </Pane>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the sheet" />
      <Panel minSize="30%">
        <Group orientation="vertical" className="h-full">
          <Panel defaultSize="60%" minSize="120px">
            <Pane called="The stage">
              <Stage project={project} />
            </Pane>
          </Panel>
          <Separator className="h-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Height of the board" />
          <Panel panelRef={board} minSize="36px" collapsible collapsedSize="0px">
            <Pane called="The board">
              <BoardPane project={project} />
            </Pane>
          </Panel>
        </Group>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the gauges" />
      <Panel defaultSize="19%" minSize="170px" maxSize="34%" collapsible collapsedSize="0px">
        <Pane called="The gauges">
          <Gauges project={project} />
        </Pane>
      </Panel>
    </Group>
  );
}
