import { zodResolver } from '@hookform/resolvers/zod';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import { Button } from './button.tsx';

const nameSchema = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(120, 'A name has at most 120 letters.'),
});
type Named = z.infer<typeof nameSchema>;

/** One name to be given, and a key that takes it; says what is wrong with it. */
export function NameForm({
  label,
  take,
  taken = [],
  placeholder,
  className,
  onName,
  onCancel,
}: {
  label: string;
  /** what the key says */
  take: string;
  /** names that others have */
  taken?: readonly string[];
  placeholder?: string;
  className?: string;
  onName(name: string): void;
  /** it was asked for just now: it has the focus, and Escape takes it away again */
  onCancel?: () => void;
}) {
  const { register, handleSubmit, reset, setError, formState } = useForm<Named>({
    resolver: zodResolver(nameSchema),
    defaultValues: { name: '' },
  });
  const submit = ({ name }: Named): void => {
    if (taken.includes(name)) {
      setError('name', { message: `There is a ${name} already.` });
      return;
    }
    onName(name);
    reset();
  };
  const wrong = formState.errors.name?.message;
  return (
    <form className={className} onSubmit={(e) => void handleSubmit(submit)(e)}>
      <div className="flex min-w-0 items-end gap-2">
        <label className="min-w-0 grow">
          <span className="mb-0.5 block text-ink-soft text-sm">{label}</span>
          <input
            className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2"
            // biome-ignore lint/a11y/noAutofocus: the field was asked for just now
            autoFocus={onCancel !== undefined}
            placeholder={placeholder}
            aria-invalid={wrong !== undefined}
            {...register('name')}
            onKeyDown={(e) => {
              if (e.key === 'Escape') onCancel?.();
            }}
          />
        </label>
        <Button type="submit">{take}</Button>
      </div>
      {wrong && (
        <p role="alert" className="mt-1 text-sm text-stop">
          {wrong}
        </p>
      )}
    </form>
  );
}
