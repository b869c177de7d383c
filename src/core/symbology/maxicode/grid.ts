/**
 * Where the 864 data modules of MaxiCode lie (ISO/IEC 16023): 33 rows of 30 modules, 29 in odd
 * rows. Outside the middle the order is regular: blocks of two by three modules, one symbol
 * character each, run to and fro in eleven rows of blocks, and a narrow column at the right edge
 * takes the last eight characters. The middle, where the primary message lies round the finder, is
 * a table. Proven by comparison with an independent writer (tests/core/symbology/maxicode.test.ts).
 */
export const gridRows = 33;
export const gridColumns = 30;

/** Values of the grid that are not bit numbers. */
export const dark = -2;
const light = -1;
/** Under the finder, or outside the symbol. */
export const nothing = -3;

/** Rows 9 to 23, columns 0 to 27. D dark, L light, . under the finder. */
const middle = `
409 408 403 402 397 396 391 390 79 78 D D 13 12 37 36 2 L 44 43 109 108 385 384 379 378 373 372
411 410 405 404 399 398 393 392 81 80 40 D 15 14 39 38 3 L L 45 111 110 387 386 381 380 375 374
413 412 407 406 401 400 395 394 83 82 41 . . . . . 5 4 47 46 113 112 389 388 383 382 377 376
415 414 421 420 427 426 103 102 55 54 16 . . . . . . . 20 19 85 84 433 432 439 438 445 444
417 416 423 422 429 428 105 104 57 56 . . . . . . . . 22 21 87 86 435 434 441 440 447 446
419 418 425 424 431 430 107 106 59 58 . . . . . . . . . 23 89 88 437 436 443 442 449 448
481 480 475 474 469 468 48 D 30 . . . . . . . . . . 0 53 52 463 462 457 456 451 450
483 482 477 476 471 470 49 L D . . . . . . . . . . . D L 465 464 459 458 453 452
485 484 479 478 473 472 51 50 31 . . . . . . . . . . 1 D 42 467 466 461 460 455 454
487 486 493 492 499 498 97 96 61 60 . . . . . . . . . 26 91 90 505 504 511 510 517 516
489 488 495 494 501 500 99 98 63 62 . . . . . . . . 28 27 93 92 507 506 513 512 519 518
491 490 497 496 503 502 101 100 65 64 17 . . . . . . . 18 29 95 94 509 508 515 514 521 520
559 558 553 552 547 546 541 540 73 72 32 . . . . . . 10 67 66 115 114 535 534 529 528 523 522
561 560 555 554 549 548 543 542 75 74 D L 7 6 35 34 11 D 69 68 117 116 537 536 531 530 525 524
563 562 557 556 551 550 545 544 77 76 D 33 9 8 25 24 L D 71 70 119 118 539 538 533 532 527 526`;

/** Bit number of every module, row by row, or one of the constants above. */
export const grid: Int16Array = build();

function build(): Int16Array {
  const out = new Int16Array(gridRows * gridColumns).fill(nothing);
  const blocks = gridRows / 3;
  let character = 20;
  for (let b = 0; b < blocks; b++) {
    if (b >= 3 && b <= 7) {
      // the characters in the middle that belong to the secondary message are counted by the table
      if (b === 7) character = 94;
      continue;
    }
    for (let k = 0; k < 14; k++, character++) {
      const left = (b % 2 === 0 ? k : 13 - k) * 2;
      for (let i = 0; i < 6; i++)
        out[(b * 3 + (i >> 1)) * gridColumns + left + 1 - (i & 1)] = character * 6 + i;
    }
  }
  middle
    .trim()
    .split('\n')
    .forEach((row, r) =>
      row.split(' ').forEach((cell, c) => {
        out[(9 + r) * gridColumns + c] =
          cell === 'D' ? dark : cell === 'L' ? light : cell === '.' ? nothing : Number(cell);
      }),
    );
  let bit = 816;
  for (let r = 1; r < gridRows; r++) {
    if (r % 2 === 0) out[r * gridColumns + 29] = bit++;
    out[r * gridColumns + 28] = bit++;
  }
  out[28] = out[29] = dark;
  return out;
}
