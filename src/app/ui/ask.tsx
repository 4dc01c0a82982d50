import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { create } from 'zustand';
import type { Result } from '../../core/result';

interface Question {
  readonly title: string;
  readonly initial: string;
  readonly check: (text: string) => Result<unknown>;
  readonly done: (text: string) => void;
}
const useQuestion = create<{ question: Question | null }>(() => ({ question: null }));

/** Asks for one value in a small dialog; a wrong one says why and is not taken. */
export const ask = (question: Question): void => useQuestion.setState({ question });

/** The dialog `ask` opens; stands once in the application. */
export function Asking() {
  const question = useQuestion((s) => s.question);
  return (
    <Dialog.Root open={question !== null} onOpenChange={(open) => !open && useQuestion.setState({ question: null })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-32 z-50 w-80 -translate-x-1/2 rounded-sm border border-line2 bg-card p-4 shadow-xl"
        >
          {question && <Form key={question.title + question.initial} question={question} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Form({ question }: { question: Question }) {
  const [text, setText] = useState(question.initial);
  const checked = question.check(text);
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!checked.ok) return;
        useQuestion.setState({ question: null });
        question.done(text);
      }}
    >
      <Dialog.Title className="font-semibold">{question.title}</Dialog.Title>
      <input
        aria-label={question.title}
        className="field font-mono"
        autoFocus
        value={text}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setText(e.target.value)}
      />
      {!checked.ok && (
        <p role="alert" className="text-madder">
          {String(checked.error)}
        </p>
      )}
      <button type="submit" className="btn-strong self-end" disabled={!checked.ok}>
        Do it
      </button>
    </form>
  );
}
