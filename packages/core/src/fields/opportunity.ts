/** How a stage of a pipeline ends: not yet, well, or not. */
export type StageOutcome = 'open' | 'won' | 'lost';

export interface PipelineStage {
  label: string;
  outcome: StageOutcome;
  /** What the stage means, in the workspace's own words. */
  meaning: string;
}

/** An ordered way that opportunities go. */
export interface Pipeline {
  name: string;
  stages: PipelineStage[];
}

/** How an opportunity stands: as its stage ends. A stage that its pipeline does not have any more is open. */
export function outcomeOf(pipelines: readonly Pipeline[], pipeline: string, stage: string): StageOutcome {
  const found = pipelines.find(({ name }) => name === pipeline)?.stages.find(({ label }) => label === stage);
  return found?.outcome ?? 'open';
}
