export const NOW: string;
