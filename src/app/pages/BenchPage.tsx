import { useEffect, useLayoutEffect, useState } from 'react';
import { Group, Panel, Separator, useDefaultLayout, usePanelRef } from 'react-resizable-panels';
import type { Project } from '../../core/recipe/schema';
import { Begin } from '../bench/Begin';
import { Gauges } from '../bench/Gauges';
import { Sheet } from '../bench/Sheet';
import { BoardPane } from '../board/Board';
import { boardRoom } from '../board/shown';
import { setBench, useBench } from '../state/bench';
import { useProject } from '../state/project';
import { note, recall } from '../storage/small';
import { Pane } from '../ui/Pane';
import { Stage } from './StageLater';

/** Where the board's share of the height is kept, %; a share below the least is a board put away. */
const SHARE = 'board-share';
const LEAST = 10;

/** The bench: sheet, stage over board, gauges. */
export function BenchPage() {
  const project = useProject((s) => s.project);
  if (!project) return null;
  return <Panes project={project} />;
}

function Panes({ project }: { project: Project }) {
  const board = usePanelRef();
  // What a step asks for is picked here: elsewhere it would be asked for by nothing that is seen.
  useEffect(() => () => setBench({ picking: null }), []);
  const room = useBench((s) =>
    boardRoom(project, {
      room: s.room,
      step: s.step,
      drawing: s.drawing,
      asked: s.picking !== null,
    }),
  );
  // As they were left; the board's own share is not what one view of it took.
  const columns = useDefaultLayout({ id: 'bench', onlySaveAfterUserInteractions: true, storage: { getItem: recall, setItem: note } });
  const [share, setShare] = useState(() => Number(recall(SHARE)) || 40);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the room changes by what one is at, not while the board's edge is dragged
  useLayoutEffect(() => {
    if (room === 'strip') board.current?.collapse();
    else board.current?.resize(room === 'most' ? '74%' : `${share}%`);
  }, [room, board]);
  return (
    <Group orientation="horizontal" className="h-full" defaultLayout={columns.defaultLayout} onLayoutChanged={columns.onLayoutChanged}>
      <Panel id="sheet" defaultSize="27%" minSize="220px" maxSize="45%" collapsible collapsedSize="0px">
        <Pane called="The sheet">
          <Sheet project={project} />
        </Pane>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the sheet" />
      <Panel id="middle" minSize="30%">
        <Group
          orientation="vertical"
          className="h-full"
          onLayoutChanged={(layout, { isUserInteraction }) => {
            const left = layout.board;
            if (!isUserInteraction || room !== 'share' || left === undefined || left < LEAST) return;
            setShare(left);
            note(SHARE, `${left}`);
          }}
        >
          <Panel id="stage" minSize="120px">
            <Pane called="The stage">
              <div className="relative h-full">
                <Stage project={project} />
                {project.steps.length === 0 && project.profiles.length === 0 && <Begin project={project} />}
              </div>
            </Pane>
          </Panel>
          <Separator className="h-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Height of the board" />
          <Panel id="board" panelRef={board} defaultSize={`${share}%`} minSize="120px" collapsible collapsedSize="33px">
            <Pane called="The board">
              <BoardPane project={project} />
            </Pane>
          </Panel>
        </Group>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the gauges" />
      <Panel id="gauges" defaultSize="19%" minSize="170px" maxSize="34%" collapsible collapsedSize="0px">
        <Pane called="The gauges">
          <Gauges project={project} />
        </Pane>
      </Panel>
    </Group>
  );
}
