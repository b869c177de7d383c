import { Histogram, Registry } from 'prom-client';
import type { Route } from '../../contract';

const shared = globalThis as typeof globalThis & { handStampMetrics?: Metrics };
interface Metrics {
  registry: Registry;
  answers: Histogram<'route' | 'method' | 'status'>;
}

/** What this process counts; kept over reloads of the development server. */
function metrics(): Metrics {
  if (shared.handStampMetrics) return shared.handStampMetrics;
  const registry = new Registry();
  const answers = new Histogram({
    name: 'hand_stamp_answer_seconds',
    help: 'Seconds that answers of this process took, by route, method and status.',
    labelNames: ['route', 'method', 'status'],
    buckets: [0.005, 0.02, 0.05, 0.1, 0.3, 1, 3, 10, 60],
    registers: [registry],
  });
  return (shared.handStampMetrics = { registry, answers });
}

/** Begins to measure how long an answer takes; what it returns is told how it came out. */
export function measured(route: Route): (status: number) => void {
  const end = metrics().answers.startTimer({ route: route.path, method: route.method });
  return (status) => void end({ status: String(status) });
}

export const metricsOfProcess = (): Registry => metrics().registry;
