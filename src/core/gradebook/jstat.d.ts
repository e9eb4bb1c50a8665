/** What is used of jstat, which comes without types. */
declare module "jstat" {
  const jStat: {
    studentt: {
      /** The quantile of Student's t distribution. */
      inv(probability: number, degreesOfFreedom: number): number;
    };
  };
  export default jStat;
}
