import highs, { type Highs } from 'highs';
import type { Programme, Solved, Solver, SolveOptions } from '../calculation/index.ts';

// its types are those of a module of the older kind
const load = highs as unknown as () => Promise<Highs>;

/** Smallest share of the best that is asked for: floating sums prove no more. */
const LEAST_GAP = 1e-9;

/** HiGHS as the solver of programmes; loaded once, a solve then holds its thread. */
export async function highsSolver(): Promise<Solver> {
  const loaded = await load();
  return { maximise: (programme, options) => maximise(loaded, programme, options) };
}

function maximise(highs: Highs, p: Programme, { timeLimitS, gap, begin, progress }: SolveOptions): Solved {
  const { modelStatus, callbackType, variableType } = highs.constants;
  const [numCols, numRows] = [p.cost.length, p.rowLower.length];
  if (numCols === 0) return { state: 'proven', x: new Float64Array(0), bound: 0 };
  const data = {
    numCols,
    numRows,
    sense: highs.constants.objectiveSense.maximize,
    colCost: p.cost,
    colLower: p.lower,
    colUpper: p.upper,
    rowLower: p.rowLower,
    rowUpper: p.rowUpper,
    matrix: { format: 'csr' as const, numRows, numCols, starts: p.starts, indices: p.indices, values: p.values },
    integrality: Int32Array.from(p.whole, (w) => (w ? variableType.integer : variableType.continuous)),
  };
  return highs.withModel(data, (model): Solved => {
    model.options.set({
      output_flag: false,
      time_limit: timeLimitS,
      mip_rel_gap: Math.max(gap, LEAST_GAP),
      mip_abs_gap: LEAST_GAP,
    });
    if (begin) model.setSolution({ colValue: begin });
    model.run(
      progress
        ? {
            [callbackType.mipInterrupt](event) {
              const { mip_primal_bound: found, mip_dual_bound: bound } = event.data;
              if (!progress(Number(found), Number(bound))) event.interrupt();
            },
          }
        : undefined,
    );
    const status = model.getModelStatus();
    if (status === modelStatus.infeasible) return { state: 'infeasible', x: null, bound: -Infinity };
    const found = model.info.get('primal_solution_status') === highs.constants.solutionStatus.feasible;
    const x = found ? model.getSolution().colValue : null;
    return {
      state: status === modelStatus.optimal ? 'proven' : 'cut-short',
      x,
      bound: Number(model.info.get('mip_dual_bound')),
    };
  });
}
