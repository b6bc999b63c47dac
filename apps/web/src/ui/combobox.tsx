import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { fitting } from './fitting';

export interface Choice {
  value: string;
  text: string;
  group?: string;
  hint?: string;
}

interface ComboboxProps {
  label: string;
  value: string | null;
  choices: Choice[];
  onChoose: (value: string) => void;
  children: ReactNode;
  /** Offered when what was typed is none of the choices. */
  onCreate?: (text: string) => void;
  createText?: (text: string) => string;
  /** What exists and may have been meant by what was typed; offered before something new can be made. */
  near?: (text: string) => string[];
  className?: string;
  disabled?: boolean;
}

const keyOf = ({ text, value }: Choice) => `${text} ${value}`;

/** Choosing one of many by typing or by arrow keys. */
export function Combobox({
  label,
  value,
  choices,
  onChoose,
  children,
  onCreate,
  createText,
  near,
  className = '',
  disabled,
}: ComboboxProps) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  // What the Enter key takes is settled with what was typed, so that fast typing never takes what fitted a letter ago.
  const [active, setActive] = useState('');
  const shown = fitting(choices, typed);
  const groups = [...new Set(shown.map((choice) => choice.group ?? ''))];
  const known = choices.some((choice) => choice.text.toLowerCase() === typed.trim().toLowerCase());
  const close = () => {
    setOpen(false);
    setTyped('');
    setActive('');
  };
  const type = (text: string) => {
    setTyped(text);
    const nearby = near && text.trim() ? near(text.trim())[0] : undefined;
    const [first] = fitting(choices, text);
    setActive(first ? keyOf(first) : nearby ? `near ${nearby}` : `create ${text}`);
  };
  return (
    <Popover.Root open={open} onOpenChange={(next) => (next ? setOpen(true) : close())}>
      <Popover.Trigger className={className} aria-label={label} disabled={disabled}>
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={3}
          className="z-50 w-64 border border-strong bg-page shadow-sm"
          aria-label={label}
        >
          <Command loop label={label} shouldFilter={false} value={active} onValueChange={setActive}>
            <Command.Input
              value={typed}
              onValueChange={type}
              placeholder="Type to find"
              className="w-full border-b border-hair bg-page px-3 py-2 outline-none"
            />
            <Command.List className="max-h-72 overflow-y-auto py-1">
              {shown.length ? null : (
                <p className="px-3 py-2 text-ink3">{onCreate ? 'None of that name.' : 'Nothing fits.'}</p>
              )}
              {groups.map((group) => (
                <Command.Group
                  key={group}
                  heading={group || undefined}
                  className={`[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[11.5px]
                    [&_[cmdk-group-heading]]:text-ink3`}
                >
                  {shown
                    .filter((choice) => (choice.group ?? '') === group)
                    .map((choice) => (
                      <Command.Item
                        key={choice.value}
                        value={keyOf(choice)}
                        onSelect={() => {
                          onChoose(choice.value);
                          close();
                        }}
                        className="flex cursor-pointer items-baseline gap-2 px-3 py-1 data-[selected=true]:bg-picked"
                      >
                        <span className={choice.value === value ? 'font-semibold' : ''}>{choice.text}</span>
                        {choice.hint ? (
                          <span className="ml-auto truncate text-[12px] text-ink3">{choice.hint}</span>
                        ) : null}
                      </Command.Item>
                    ))}
                </Command.Group>
              ))}
              {near && typed.trim() && !known
                ? near(typed.trim()).map((label) => (
                    <Command.Item
                      key={label}
                      forceMount
                      value={`near ${label}`}
                      onSelect={() => {
                        onChoose(label);
                        close();
                      }}
                      className="flex cursor-pointer items-baseline gap-2 px-3 py-1 data-[selected=true]:bg-picked"
                    >
                      <strong className="font-semibold">{label}</strong>
                      <span className="ml-auto text-[12px] text-ink3">exists, like what you typed</span>
                    </Command.Item>
                  ))
                : null}
              {onCreate && typed.trim() && !known ? (
                <Command.Item
                  forceMount
                  value={`create ${typed}`}
                  onSelect={() => {
                    onCreate(typed.trim());
                    close();
                  }}
                  className="cursor-pointer border-t border-hair px-3 py-1.5 data-[selected=true]:bg-picked"
                >
                  {createText ? createText(typed.trim()) : `Make "${typed.trim()}"`}
                </Command.Item>
              ) : null}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
