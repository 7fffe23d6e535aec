declare module '@techstark/opencv-js' {
  const opencv: unknown;
  export default opencv;
}
