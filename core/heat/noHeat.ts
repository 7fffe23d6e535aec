/** Why no heating can be computed: where in the anatomy or the request, and what to do. */
export class NoHeat extends Error {
  constructor(
    readonly path: string,
    message: string,
  ) {
    super(message);
    this.name = 'NoHeat';
  }
}
