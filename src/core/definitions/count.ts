/** Says a whole number with a narrow space between thousands: `112 527` (ISO 80000-1, 7.3.1). */
export const speakCount = (count: number): string => String(Math.round(count)).replace(/(\d)(?=(\d{3})+$)/g, '$1\u202f')
