/** The mark: a crow in flight, of our own drawing, 30 wide and 22 high. */
export const crowPath =
  'M0 16.5 6.5 13C7 6.5 11.5 2.5 17 3c1.7-2.2 5-2.8 7.2-.9L30 6l-5.3 1.7c-.4 5.5-4.2 9-9.7 9.3L12.5 20H16v1.5H8.5l2.8-4.6L0 16.5Z';
