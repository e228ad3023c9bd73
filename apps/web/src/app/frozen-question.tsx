import { format, parseISO } from 'date-fns';
import { useProject } from '../project/project.tsx';
import { Question } from '../ui/question.tsx';
import { useToasts } from '../ui/toasts.tsx';

/** Most pieces that are named. */
const NAMED = 6;

/** Asks before a change alters pieces that are printed already: leave them, make them again, or do not. */
export function FrozenDialog() {
  const { question, view } = useProject();
  const toasts = useToasts();
  if (!question) return null;
  const { label, spare, again, drop } = question;
  const codeOf = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  const pieces = question.pieces
    .map((p) => ({ ...p, code: codeOf(p.key) }))
    .sort((a, b) => a.code.localeCompare(b.code, 'en', { numeric: true }));
  const one = pieces.length === 1;
  const them = one ? pieces[0].code : 'them';
  const leave = async (): Promise<void> => {
    if (await spare()) return;
    toasts.say({ text: `Nothing of “${label}” leaves ${them} as printed, so it was not done.`, tone: 'warn' });
  };
  return (
    <Question
      title={one ? `This changes ${pieces[0].code}, which is printed` : `This changes ${pieces.length} printed pieces`}
      no="Do not do it"
      or={{ label: `Leave ${them} as printed`, run: () => void leave() }}
      yes={`Do it, and print ${them} again`}
      onYes={again}
      onNo={drop}
    >
      <p>“{label}” would change:</p>
      <ul className="my-2">
        {pieces.slice(0, NAMED).map((p) => (
          <li key={p.key}>
            <strong>{p.code}</strong>, printed on {format(parseISO(p.since), 'EEEE, d MMMM')}
          </li>
        ))}
        {pieces.length > NAMED && <li>and {pieces.length - NAMED} more</li>}
      </ul>
      <p className="text-ink-soft">
        Left as printed, only that part of it is done which changes no printed piece. Printed again, they stand at “to
        print”.
      </p>
    </Question>
  );
}
