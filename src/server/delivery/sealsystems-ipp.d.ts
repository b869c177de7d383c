declare module '@sealsystems/ipp' {
  /**
   * A message of RFC 8010 as bytes, and back. What is in neither list of the standard is left out.
   */
  const ipp: {
    serialize(message: Record<string, unknown>): Buffer;
    parse(bytes: Buffer): Record<string, unknown>;
  };
  export default ipp;
}
