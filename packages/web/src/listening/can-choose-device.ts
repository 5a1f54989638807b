export const canChooseDevice = (): boolean => 'setSinkId' in AudioContext.prototype;
