/** Headers of every answer: no guessing of types, no frames, no referrer to other sites. */
export const headersOfAll = {
  'X-Content-Type-Options': 'nosniff',
  'X-Frame-Options': 'DENY',
  'Referrer-Policy': 'same-origin',
  'Cross-Origin-Opener-Policy': 'same-origin',
  // codes are scanned by camera; nothing else of a device is used
  'Permissions-Policy': [
    'camera=(self)',
    ...['accelerometer', 'display-capture', 'geolocation', 'gyroscope', 'magnetometer'],
    ...['microphone', 'midi', 'payment', 'usb'],
  ]
    .map((feature) => (feature.includes('=') ? feature : `${feature}=()`))
    .join(', '),
} as const;
