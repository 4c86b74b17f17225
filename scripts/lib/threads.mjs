// The threads of the server: files that are run beside it, each by itself.
export const THREADS = {
  'plan-thread': 'server/src/planning/plan-thread.ts',
  'plan-copy-worker': 'server/src/planning/plan-copy-worker.ts',
  'forecast-worker': 'server/src/planning/forecast-worker.ts',
  'list-file-worker': 'server/src/papers/list-file-worker.ts',
  'paper-worker': 'server/src/papers/paper-worker.ts',
  'archive-worker': 'server/src/keeping/archive-worker.ts',
  'backup-worker': 'server/src/keeping/backup-worker.ts',
  'import-worker': 'server/src/bulk/import-worker.ts',
};
