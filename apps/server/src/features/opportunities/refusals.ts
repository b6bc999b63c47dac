import { conflict, declareRefusals, invalid, missing } from '../../http/refusal';

export const refuse = declareRefusals({
  noSuchPipeline: invalid(
    ({ pipeline }: { pipeline: string }) => `There is no pipeline '${pipeline}' any more. Choose another one.`,
  ),
  unknownStage: invalid(
    ({ pipeline, stage, stages }: { pipeline: string; stage: string; stages: string[] }) =>
      `${pipeline} has no stage '${stage}'; its stages are ${stages.join(', ')}.`,
  ),
  noSuchOpportunity: missing('There is no such opportunity.'),
  valueChanged: conflict(
    ({ name }: { name: string; version: number }) =>
      `Somebody changed ${name} meanwhile. What you typed is still here; look at what it is now, and save again.`,
  ),
  nameTaken: invalid(({ what, name }: { what: string; name: string }) => `Two ${what} are called '${name}'.`),
  inUse: conflict(({ pipeline, stage, count }: { pipeline: string; stage: string; count: number }) =>
    count === 1
      ? `1 opportunity is at '${stage}' of ${pipeline}. Move it first.`
      : `${count} opportunities are at '${stage}' of ${pipeline}. Move them first.`,
  ),
});
