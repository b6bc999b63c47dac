import type { Mapping } from './mapping';
import type { Transform } from './rows/transform';

/** A value of a pick-list that got another name, or was merged into another one; `field` is stage, tags, source or owner. */
interface Renamed {
  field: string;
  from: string;
  into: string;
}

function renamedStep(step: Transform, nameNow: (name: string) => string): Transform {
  switch (step.kind) {
    case 'values':
      return { ...step, pairs: step.pairs.map(([was, now]) => [was, nameNow(now)]) };
    case 'fixed':
      return { ...step, value: nameNow(step.value) };
    case 'ifEmpty':
      return { ...step, use: nameNow(step.use) };
    default:
      return step;
  }
}

/** The columns of some targets, with what they give to rows called otherwise. */
const renamedColumns = (
  { columns }: Mapping,
  targets: readonly string[],
  nameNow: (name: string) => string,
): Mapping['columns'] =>
  columns.map((column) =>
    column.target && targets.includes(column.target) && column.transforms
      ? { ...column, transforms: column.transforms.map((step) => renamedStep(step, nameNow)) }
      : column,
  );

/** A mapping after a value of a pick-list was renamed: what it gives to rows is called as it is called now. */
export function renamedMapping(mapping: Mapping, renamed: Renamed): Mapping {
  const { field, from, into } = renamed;
  const { wholeFile } = mapping;
  const one = (key: 'source' | 'stage' | 'owner') => (field === key && wholeFile[key] === from ? { [key]: into } : {});
  return {
    ...mapping,
    columns: renamedColumns(mapping, field === 'owner' ? ['owner', 'opportunityOwner'] : [field], (name) =>
      name === from ? into : name,
    ),
    wholeFile: {
      ...wholeFile,
      tags: field === 'tags' ? [...new Set(wholeFile.tags.map((tag) => (tag === from ? into : tag)))] : wholeFile.tags,
      ...one('source'),
      ...one('stage'),
      ...one('owner'),
    },
  };
}

/** A place in a pipeline of opportunities, and where it is now. */
export interface PlaceMove {
  pipeline: string;
  stage: string;
  to: { pipeline: string; stage: string };
}

const fixedOf = ({ columns }: Mapping, target: string): string | undefined =>
  columns
    .find((column) => column.target === target)
    ?.transforms?.flatMap((step) => (step.kind === 'fixed' ? [step.value] : []))[0];

/**
 * A mapping after pipelines or stages of opportunities were renamed. `moves` has every place that is left, also those that kept their
 * names: a stage that several pipelines have is renamed only where all of them, or the one that the mapping names, did.
 */
export function renamedPlaces(mapping: Mapping, moves: readonly PlaceMove[]): Mapping {
  const only = fixedOf(mapping, 'opportunityPipeline');
  const onlyOne = (name: string, names: readonly string[]) => (new Set(names).size === 1 ? (names[0] ?? name) : name);
  const pipelineNow = (name: string) =>
    onlyOne(
      name,
      moves.filter(({ pipeline }) => pipeline === name).map(({ to }) => to.pipeline),
    );
  const stageNow = (name: string) =>
    onlyOne(
      name,
      moves
        .filter(({ pipeline, stage }) => stage === name && (only === undefined || pipeline === only))
        .map(({ to }) => to.stage),
    );
  const columns = renamedColumns(mapping, ['opportunityStage'], stageNow);
  return { ...mapping, columns: renamedColumns({ ...mapping, columns }, ['opportunityPipeline'], pipelineNow) };
}
