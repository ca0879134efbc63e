import type { DefectKind } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { useBench } from '../stores/bench.ts';
import { useDiagnosis } from '../stores/diagnosis.ts';
import { useEdits } from '../stores/edits.ts';

/** Has a region explained as a kind of defect: the one that is marked there already, or a new one. */
export function useExplainAs() {
  const bench = useBench();
  const diagnosis = useDiagnosis();
  const edits = useEdits();
  return async (kind: DefectKind, region: Region) => {
    const known = bench.shot!.defects.find((d) => d.kind === kind && JSON.stringify(d.region) === JSON.stringify(region)); // prettier-ignore
    if (known) return bench.selectDefect(known.id);
    bench.region = region;
    await edits.markDefect(kind);
    await diagnosis.explain();
  };
}
