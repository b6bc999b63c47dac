export {
  addCounts,
  countsOf,
  OpportunityPlanner,
  writeOpportunities,
  type RowOpportunity,
} from './import-opportunities';
