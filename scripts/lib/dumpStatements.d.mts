/** Goes through a dump line by line as it comes, and refuses what is no statement of one. */
export declare class StatementCheck {
  /** @throws naming the line where something stands that no dump of ours holds */
  read(chunk: Uint8Array): void;
  /** @throws where the last statement is not ended */
  end(): void;
}
