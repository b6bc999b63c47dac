import type { Mapping } from './mapping';
import type { Transform } from './rows/transform';

/** A value of a pick-list that got another name, or was merged into another one; `field` is stage, tags, source or owner. */
interface Renamed {
  field: string;
  from: string;
  into: string;
}

function renamedStep(step: Transform, { from, into }: Renamed): Transform {
  switch (step.kind) {
    case 'values':
      return { ...step, pairs: step.pairs.map(([was, now]) => [was, now === from ? into : now]) };
    case 'fixed':
      return step.value === from ? { ...step, value: into } : step;
    case 'ifEmpty':
      return step.use === from ? { ...step, use: into } : step;
    default:
      return step;
  }
}

/** A mapping after a value of a pick-list was renamed: what it gives to rows is called as it is called now. */
export function renamedMapping(mapping: Mapping, renamed: Renamed): Mapping {
  const { field, from, into } = renamed;
  const { wholeFile } = mapping;
  const one = (key: 'source' | 'stage' | 'owner') => (field === key && wholeFile[key] === from ? { [key]: into } : {});
  return {
    ...mapping,
    columns: mapping.columns.map((column) =>
      column.target === field && column.transforms
        ? { ...column, transforms: column.transforms.map((step) => renamedStep(step, renamed)) }
        : column,
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
