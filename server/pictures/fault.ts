/** Why nothing can be done with a picture, in a sentence. */
export class PictureFault extends Error {
  /** @param status 415 where it is no picture that can be read, 422 where what was asked does not go with it */
  constructor(
    message: string,
    readonly status: 415 | 422 = 415,
  ) {
    super(message);
  }
}
