/** Bytes of films that a node keeps. */
const MOST_KEPT = 128 * 2 ** 20;

/**
 * Films that a node rendered and stored, by proof and place, until it puts their proof together: what it has need not be fetched.
 * Those of the oldest proof go first where there are too many; the database has all of them.
 */
export class KeptFilms {
  private readonly films = new Map<number, Map<number, Uint8Array>>();
  private bytes = 0;

  constructor(private readonly most = MOST_KEPT) {}

  keep(proof: number, place: number, film: Uint8Array): void {
    this.take(proof, place);
    if (!this.films.has(proof)) this.films.set(proof, new Map());
    this.films.get(proof)!.set(place, film);
    this.bytes += film.length;
    while (this.bytes > this.most) {
      const [oldest, places] = this.films.entries().next().value!;
      this.take(oldest, places.keys().next().value!);
    }
  }

  /** A film that is kept, for the last time; undefined where it is not. */
  take(proof: number, place: number): Uint8Array | undefined {
    const places = this.films.get(proof);
    const film = places?.get(place);
    if (!places || !film) return undefined;
    places.delete(place);
    this.bytes -= film.length;
    if (places.size === 0) this.films.delete(proof);
    return film;
  }

  drop(proof: number): void {
    for (const place of [...(this.films.get(proof)?.keys() ?? [])]) this.take(proof, place);
  }

  proofs(): number[] {
    return [...this.films.keys()];
  }
}
