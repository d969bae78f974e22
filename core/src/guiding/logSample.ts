/** One line of a guide log; errors on the sky, pulses that move the pointing, east and north positive. */
export interface LogSample {
  timeS: number;
  raArcsec: number;
  decArcsec: number;
  raPulseMs: number;
  decPulseMs: number;
  snr?: number;
  state: 'guiding' | 'settling' | 'dithering' | 'lost' | 'off';
}
export type Axis = 'raArcsec' | 'decArcsec';
export type Pulse = 'raPulseMs' | 'decPulseMs';
