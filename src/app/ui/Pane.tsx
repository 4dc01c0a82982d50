import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { useRouteError } from 'react-router';
import { wordsOf } from '../../core/result';
import { useProject } from '../state/project';
import { saveProjectFile } from './saveProject';

/** Saves what is on the page, from wherever something stopped. */
function SaveButton() {
  const project = useProject((s) => s.project);
  if (!project) return null;
  return (
    <button type="button" className="btn" onClick={() => saveProjectFile(project)}>
      Save the project to a file
    </button>
  );
}

/** A part of a page that stands for itself: where it stops, the others go on, and it can be begun again. */
export function Pane({ called, children }: { called: string; children: React.ReactNode }) {
  const fallback = ({ error, resetErrorBoundary }: FallbackProps) => (
    <div role="alert" className="flex h-full flex-col items-start gap-2 overflow-auto bg-panel p-4">
      <p>
        <b>{called} stopped.</b> The rest goes on, and nothing of the project is lost.
      </p>
      <p className="text-ink2">{wordsOf(error)}</p>
      <div className="flex gap-2">
        <button type="button" className="btn-strong" onClick={resetErrorBoundary}>
          Begin it again
        </button>
        <SaveButton />
      </div>
    </div>
  );
  return <ErrorBoundary fallbackRender={fallback}>{children}</ErrorBoundary>;
}

/** Stands where a page could not be shown at all. */
export function PageStopped() {
  const error = useRouteError();
  return (
    <main role="alert" className="flex flex-col items-start gap-2 p-10">
      <h1 className="text-lg font-semibold">This page stopped</h1>
      <p>What was saved is in the browser’s storage still. The reason given is: {wordsOf(error)}</p>
      <div className="flex gap-2">
        <button type="button" className="btn-strong" onClick={() => window.location.reload()}>
          Load it again
        </button>
        <SaveButton />
        <a className="btn" href="/">
          All projects
        </a>
      </div>
    </main>
  );
}
