import { describe } from '@jest/globals';
import { SimulatedService } from '../../../../../packages/core/src/testing/sync-service';
import { TOOL_KINDS } from '../../../../../packages/core/src/testing/sync-tool';
import type { OutsideFields } from '@gray-loom/core/syncing';
import { connectorContract } from './contract';
import { contractOfParts, type Part } from './contract-parts';

const ALL: readonly Part[] = ['results', 'forms', 'lists', 'makeField', 'callNext'];

const ANA = { given: [{ v: 'Ana' }], family: [{ v: 'Reis' }] };
const OKORO = { family: [{ v: 'Okoro' }] };
const OAK = { note: [{ v: 'OAK' }] };
// What is changed behind a connector's back is what none of its writes here names.
const PEOPLE: Record<
  string,
  { person: OutsideFields; otherName: OutsideFields; more: OutsideFields; behind: OutsideFields }
> = {
  'address book': { person: ANA, otherName: OKORO, more: OAK, behind: { org: [{ v: 'Gig club' }] } },
  dialer: {
    person: { name: [{ v: 'ANA REIS' }] },
    otherName: { name: [{ v: 'ANA OKORO' }] },
    more: OAK,
    behind: { tel: [{ v: '+44 7700 900123' }] },
  },
  mailer: { person: ANA, otherName: OKORO, more: { org: [{ v: 'Gig club' }] }, behind: {} },
};

const fail = (): never => {
  throw new Error('there is no such kind, or no such record');
};

// Simulated tools of the engine's laws keep to the same contract as the connectors: those laws hold over what connectors are.
describe.each(TOOL_KINDS.map((kind) => [kind.name, kind] as const))('a tool in memory', (name, kind) => {
  const { person, otherName, more, behind } = PEOPLE[name] ?? fail();
  const mail = (address: string) => ({ email: [{ v: address }] });
  const start = () => {
    const tool = new SimulatedService(kind, () => Date.parse('2026-11-20T10:00:00Z'));
    return Promise.resolve({ tool, open: () => tool });
  };

  connectorContract(name, async () => {
    const { tool, open } = await start();
    return {
      open,
      person: { ...person, ...mail('ana@example.org') },
      otherName,
      more,
      another: (n) => ({ ...person, ...mail(`ana${n}@example.org`) }),
      tellsRemoved: true,
      loseAnswers: (isLost) => {
        tool.faults = isLost ? ['lostAnswer'] : [];
      },
      changeBehind: async (id) => {
        const record = tool.records.get(id);
        await Promise.resolve(
          tool.put(id, { ...record?.fields, ...behind }, record?.labels ?? [], [...kind.keepsStops]),
        );
      },
      isKept: (id) => {
        const { fields, stopped = [] } = tool.records.get(id) ?? fail();
        return Promise.resolve(
          Object.keys(behind).every((key) => fields[key]) && stopped.length === kind.keepsStops.length,
        );
      },
      putOff: (isOn) => {
        tool.faults = isOn ? ['busy'] : [];
      },
      forgetCursors: (isForgotten) => {
        tool.faults = isForgotten ? ['cursorLost', 'cursorLost'] : [];
      },
    };
  });

  contractOfParts(
    name,
    [
      ...ALL,
      ...(kind.keepsStops.length ? (['stops'] as const) : []),
      ...(kind.bulkFrom ? (['bulk'] as const) : []),
      ...(kind.keepsUid ? (['newUid'] as const) : []),
    ],
    async () => {
      const { tool, open } = await start();
      return {
        open,
        person: { ...person, ...mail('ana@example.org') },
        another: { ...person, ...mail('tom@example.org') },
        happens: (id) => tool.happens(id),
        says: (address) => tool.says(address),
        answers: () => tool.answers(),
        moves: (id) => {
          if (!kind.byAddress) tool.move(id, 'elsewhere');
          else {
            const record = tool.records.get(id);
            tool.put(id, { ...record?.fields, ...mail('new.address@example.org') }, [], []);
          }
          return kind.byAddress ? 'new.address@example.org' : 'elsewhere';
        },
      };
    },
  );
});
