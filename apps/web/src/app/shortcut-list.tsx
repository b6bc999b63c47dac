import { Kbd } from '../ui/controls';
import { Modal } from '../ui/modal';
import { activeShortcuts } from './keyboard';
import { setPreference, usePreferences } from './preferences';

/** What the keys do right now. */
export function ShortcutList({ onClose }: { onClose: () => void }) {
  const { singleKeys } = usePreferences();
  const shortcuts = activeShortcuts();
  const places = [...new Set(shortcuts.map((shortcut) => shortcut.place))];
  return (
    <Modal title="Shortcuts" onClose={onClose}>
      {places.map((place) => (
        <section key={place} className="mb-4">
          <h3 className="border-b border-hair pb-1 text-ink3">{place}</h3>
          <dl>
            {shortcuts
              .filter((shortcut) => shortcut.place === place)
              .map(({ keys, text }) => (
                <div key={keys + text} className="flex items-baseline gap-3 border-b border-hair py-1">
                  <dt className="w-36">
                    {keys.split(' / ').map((key) => (
                      <span key={key} className="mr-1">
                        <Kbd>{key.replace('Arrow', '')}</Kbd>
                      </span>
                    ))}
                  </dt>
                  <dd>{text}</dd>
                </div>
              ))}
          </dl>
        </section>
      ))}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={singleKeys}
          onChange={(event) => setPreference('singleKeys', event.target.checked)}
        />{' '}
        Single-key shortcuts are on
      </label>
    </Modal>
  );
}
