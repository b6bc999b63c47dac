import { keys } from '../../app/keys';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { wholeFileSettings, withoutSetting, type Mapping, type WholeFileSetting } from '@gray-loom/core/mapping';
import type { IntakeDetail } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button } from '../../ui/controls';
import { count, When } from '../../ui/when';

export const SETTING_WORDS: Record<WholeFileSetting['what'], string> = {
  tags: 'tag',
  source: 'source',
  stage: 'stage',
  owner: 'owner',
};

/** How the file compares with the last one of its layout, to be checked before it comes in. */
export function ReadAs({
  detail,
  mapping,
  onSave,
}: {
  detail: IntakeDetail;
  mapping: Mapping;
  onSave: (mapping: Mapping) => void;
}) {
  const client = useQueryClient();
  const guess = useMutation({
    mutationFn: () => api.post<IntakeDetail>(`/intakes/${detail.id}/guess`),
    onSuccess: (next) => client.setQueryData(keys.intake(detail.id), next),
  });
  const { readAs } = detail;
  if (!readAs) return null;
  const { added, missing, lost, doubtful } = readAs;
  const list = (headers: string[]) => headers.map((header) => `"${header}"`).join(', ');
  const oddCount = detail.mends === null && (detail.rowCount >= readAs.rows * 2 || detail.rowCount * 2 <= readAs.rows);
  const settings = detail.mends === null ? wholeFileSettings(mapping.wholeFile) : [];
  const differs = [
    added.length ? `new: ${list(added)}` : '',
    missing.length ? `not there this time: ${list(missing)}` : '',
    lost.length ? `the field of ${list(lost)} is gone, so it is guessed` : '',
    doubtful.length ? `dates of ${list(doubtful)} look otherwise than then, look at them` : '',
    oddCount ? `${count(detail.rowCount)} ${detail.rowCount === 1 ? 'row' : 'rows'}, ${count(readAs.rows)} then` : '',
  ].filter(Boolean);
  return (
    <p className="flex flex-wrap items-baseline gap-x-2 border-b border-hair bg-cloth px-3.5 py-1.5">
      <span>
        Read as <strong className="font-semibold">{readAs.name}</strong> was <When at={readAs.usedAt} /> ago.{' '}
        <span className={differs.length ? '' : 'text-ink2'}>
          {differs.length ? `Look at what differs: ${differs.join('; ')}.` : 'Nothing differs.'}
        </span>
      </span>
      <Button needs="editor" kind="quiet" className="ml-auto" busy={guess.isPending} onClick={() => guess.mutate()}>
        Guess anew instead
      </Button>
      {settings.length ? (
        <span className="flex basis-full flex-wrap items-baseline gap-x-3">
          Every row also gets the following. Check it:
          {settings.map((setting) => (
            <span key={setting.what + setting.value} className="inline-flex items-baseline gap-1">
              <span className="text-ink2">{SETTING_WORDS[setting.what]}</span>
              <strong className="font-semibold">{setting.value}</strong>
              <Button
                needs="editor"
                kind="quiet"
                aria-label={`Not for this file: ${SETTING_WORDS[setting.what]} ${setting.value}`}
                onClick={() => onSave({ ...mapping, wholeFile: withoutSetting(mapping.wholeFile, setting) })}
              >
                not this time
              </Button>
            </span>
          ))}
        </span>
      ) : null}
      {guess.error ? (
        <span role="alert" className="text-alarm">
          {guess.error.message}
        </span>
      ) : null}
    </p>
  );
}
