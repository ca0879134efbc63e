import type { Firefly } from './findFireflies.ts';
import type { FireflyStory } from './fireflyCauses.ts';
import type { GuiltyPath } from './guiltyPath.ts';
import { words } from './words.ts';

export interface Explained {
  firefly: Firefly;
  path: GuiltyPath;
  story: FireflyStory;
}

/** Fireflies whose paths share light, surfaces and cause. */
export interface Cluster {
  story: FireflyStory;
  /** Of most of them. */
  notation: string;
  count: number;
  /** Of the excess of all fireflies, 0..1. */
  energy: number;
  members: Explained[];
}

/** @returns the largest first */
export function clustersOf(explained: Explained[]): Cluster[] {
  const groups = new Map<string, Explained[]>();
  for (const of of explained) {
    const key = `${of.story.cause} ${words.story(of.story)}`;
    groups.set(key, [...(groups.get(key) ?? []), of]);
  }
  const excess = ({ firefly }: Explained) => firefly.luminance - firefly.around;
  const all = explained.reduce((sum, of) => sum + excess(of), 0);
  return [...groups.values()]
    .map((members) => ({
      story: members[0].story,
      notation: mostFrequent(members.map(({ path }) => path.notation)),
      count: members.length,
      energy: members.reduce((sum, of) => sum + excess(of), 0) / all,
      members,
    }))
    .sort((a, b) => b.count - a.count);
}

function mostFrequent(values: string[]): string {
  const counts = new Map<string, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort(([, a], [, b]) => b - a)[0][0];
}
