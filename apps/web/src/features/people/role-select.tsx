import { ACCOUNT_ROLES, type AccountRole } from '@gray-loom/wire';

const ROLE_WORDS: Record<AccountRole, string> = {
  administrator: 'manages fields, people and everything else',
  editor: 'enters, edits, merges and imports',
  viewer: 'looks, finds and exports',
};

/** A role, with what it may do in a few words. */
export function RoleSelect({ value, onChange }: { value: AccountRole; onChange: (role: AccountRole) => void }) {
  return (
    <select
      aria-label="Role"
      className="field max-w-full"
      value={value}
      onChange={(event) => onChange(event.target.value as AccountRole)}
    >
      {ACCOUNT_ROLES.map((role) => (
        <option key={role} value={role}>
          {role}: {ROLE_WORDS[role]}
        </option>
      ))}
    </select>
  );
}
