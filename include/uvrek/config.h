/* config.h - every macro that changes what the engine holds or how big it is.
 *
 * 1. On the desk none is set: one engine takes any keymap up to the limits below.
 * 2. For a chip, the firmware build derives a header from the keymap image and names
 *    it in UVK_CONFIG. Nobody sets these by hand.
 * 3. A UVK_USE_ macro that is 0 removes the code, the RAM and the USB report of that
 *    feature. Where it checks values (UVK_USE_CHECKS) the image reader refuses an image that
 *    needs what was removed.
 */
#ifndef UVREK_CONFIG_H
#define UVREK_CONFIG_H

#ifdef UVK_CONFIG
#include UVK_CONFIG
#endif

/* A function of which a chip has one copy, whoever calls it: there its room counts more than
 * the time of a call. Which ones was found by trying each in a firmware with all features. */
#ifdef UVK_CONFIG
#define UVK_ONE_COPY __attribute__((noinline))
#else
#define UVK_ONE_COPY
#endif

/* POINTER, but the compiler is not to know where it leads: then it stays in a register, from
 * which the 64 bytes behind it cost an AVR half as much as by their addresses. Where that pays
 * was found by trying each, as well. */
#ifdef __AVR__
#define UVK_NEAR(pointer)                                                                      \
    __extension__({                                                                            \
        __typeof__(pointer) near_ = (pointer);                                                 \
        __asm__("" : "+r"(near_));                                                             \
        near_;                                                                                 \
    })
#else
#define UVK_NEAR(pointer) (pointer)
#endif

/* Keys of the board (positions, and two for each knob), 1..240. Each costs 5 bytes of
 * RAM, 7 with UVK_USE_AGAIN. */
#ifndef UVK_MAX_KEYS
#define UVK_MAX_KEYS 240
#endif

/* Layers, 1..255. Each costs a byte of RAM; with UVK_USE_STICKY a quarter more. */
#ifndef UVK_MAX_LAYERS
#define UVK_MAX_LAYERS 255
#endif

/* Scan lines: the pins that are selected in turn, 1..32. Each costs two
 * uvk_bits and UVK_MAX_SENSES bytes of RAM. */
#ifndef UVK_MAX_LINES
#define UVK_MAX_LINES 32
#endif

/* The first scan line of the second half; as many as all lines: there is none. Only where there
 * is no directory, see UVK_USE_DIRECTORY. */
#ifndef UVK_SECOND_LINE
#define UVK_SECOND_LINE UVK_MAX_LINES
#endif

/* Sense pins: read together while a line is selected, 1..32. Chooses the width of
 * uvk_bits, 1, 2 or 4 bytes; each costs a byte of RAM a line, for the release timers. */
#ifndef UVK_MAX_SENSES
#define UVK_MAX_SENSES 32
#endif

/* Knobs, 0..32. Each costs 4 bytes of RAM. */
#ifndef UVK_MAX_KNOBS
#define UVK_MAX_KNOBS 32
#endif

/* Key events that may wait behind an undecided key or a macro, 4..128. Each costs 4 bytes. The
 * same everywhere, so that a simulated keyboard is full when a real one is. */
#ifndef UVK_QUEUE
#define UVK_QUEUE 16
#endif

#ifndef UVK_USE_CONSUMER /* media keys (HID usage page 0x0C) */
#define UVK_USE_CONSUMER 1
#endif
#ifndef UVK_USE_SYSTEM /* sleep, wake, power-off (usage page 0x01) */
#define UVK_USE_SYSTEM 1
#endif
#ifndef UVK_USE_MOUSE /* buttons and wheels */
#define UVK_USE_MOUSE 1
#endif
#ifndef UVK_USE_POINTER /* keys that move the pointer, or the wheel while they are down */
#define UVK_USE_POINTER 1
#endif
#ifndef UVK_USE_BOARD /* keys that restart the keyboard or start its bootloader */
#define UVK_USE_BOARD 1
#endif
#ifndef UVK_USE_CHORDS /* chords that do not fit an action word */
#define UVK_USE_CHORDS 1
#endif
#ifndef UVK_USE_HOLDS /* tap-hold keys */
#define UVK_USE_HOLDS 1
#endif
#ifndef UVK_USE_HANDS /* tap-holds that ask for the other hand; needs UVK_USE_HOLDS */
#define UVK_USE_HANDS 1
#endif
#ifndef UVK_USE_AGAIN /* `again` of tap-holds; needs UVK_USE_HOLDS; 2 bytes of RAM a key */
#define UVK_USE_AGAIN 1
#endif
#ifndef UVK_USE_LONG_PRESS /* needs UVK_USE_HOLDS */
#define UVK_USE_LONG_PRESS 1
#endif
#ifndef UVK_USE_DANCES /* needs UVK_USE_HOLDS */
#define UVK_USE_DANCES 1
#endif
#ifndef UVK_USE_STICKY /* toggle:, only:, once:, block: of modifiers */
#define UVK_USE_STICKY 1
#endif
#ifndef UVK_USE_BLOCKS /* block: of other keys; 28 bytes of RAM */
#define UVK_USE_BLOCKS 1
#endif
#ifndef UVK_USE_WHENS /* layers that are on while two others are */
#define UVK_USE_WHENS 1
#endif
#ifndef UVK_USE_COMBOS
#define UVK_USE_COMBOS 1
#endif
#ifndef UVK_USE_LEADER
#define UVK_USE_LEADER 1
#endif
#ifndef UVK_USE_MACROS
#define UVK_USE_MACROS 1
#endif
#ifndef UVK_USE_LIGHTS /* whatever lights up; what follows needs it */
#define UVK_USE_LIGHTS 1
#endif
#ifndef UVK_USE_LIGHT_CELLS /* cells that change it */
#define UVK_USE_LIGHT_CELLS 1
#endif
#ifndef UVK_USE_BACKLIGHT
#define UVK_USE_BACKLIGHT 1
#endif
#ifndef UVK_USE_STRIP
#define UVK_USE_STRIP 1
#endif
#ifndef UVK_MAX_STRIP /* lamps of the strip, of both halves together, 0..255; each costs 1     \
                         byte */
#define UVK_MAX_STRIP 255
#endif
#ifndef UVK_OWN_STRIP /* lamps of it that one controller lights; each costs 3 bytes */
#define UVK_OWN_STRIP 255
#endif
#ifndef UVK_MAX_LAMPS /* with a pin of their own, 0..8 */
#define UVK_MAX_LAMPS 8
#endif
#ifndef UVK_USE_LINK /* a controller in each half, see half.h */
#define UVK_USE_LINK 1
#endif
#ifndef UVK_USE_JOURNAL /* what outlives the power, see journal.h */
#define UVK_USE_JOURNAL 1
#endif
#ifndef UVK_USE_LIVE /* read and changed from the desk while it runs, see door.h */
#define UVK_USE_LIVE 1
#endif
#ifndef UVK_LIVE_ROOM /* bytes for changes, 0..4096; each costs 2 of RAM: in force, and new */
#define UVK_LIVE_ROOM 4096u
#endif
#ifndef UVK_CHECK_ROWS /* of changes, looked at before each pass; the rest in the time that it \
                          leaves */
#define UVK_CHECK_ROWS 4096u
#endif
#ifndef UVK_USE_PROBE /* 1: no keyboard, but what learns how one is wired, see door.h */
#define UVK_USE_PROBE 0
#endif
#ifndef UVK_BANK_BYTES /* of each of its two banks in the chip's memory */
#define UVK_BANK_BYTES 512u
#endif
#ifndef UVK_MEMORY_PIECE /* bytes that the memory takes at once, 1..32 */
#define UVK_MEMORY_PIECE 1u
#endif
#ifndef UVK_ERASE_BYTES /* that are erased at once; a bank is a multiple of it */
#define UVK_ERASE_BYTES 1u
#endif
#ifndef UVK_ERASE_STANDS_STILL /* 1: nothing else runs meanwhile */
#define UVK_ERASE_STANDS_STILL 0
#endif
#ifndef UVK_LINK_BYTES /* of the longest thing one half says to the other, 5..48, at least 7   \
                        * with lights; each costs 1                                            \
                        */
#define UVK_LINK_BYTES 48
#endif
#ifndef UVK_USE_PRESS_AFTER /* presses that count when the contact has been closed for a time  \
                             */
#define UVK_USE_PRESS_AFTER 1
#endif
#ifndef UVK_USE_TYPE /* macros that type text */
#define UVK_USE_TYPE 1
#endif
#ifndef UVK_MACRO_HOLDS /* actions that all macros hold at once, 1..64; 5 bytes each */
#define UVK_MACRO_HOLDS 16
#endif
#ifndef UVK_TRACE /* decisions that are remembered for whoever asks why, 0..255 */
#define UVK_TRACE 64
#endif

/* 1: where the tables of an image stand, and the shape of its board, is read from it. 0: the
 * image is built in, and the linker knows: uvk_at_NAME is where the table NAME begins,
 * uvk_rows_NAME, an absolute symbol, how many rows it has, and the shape of the board is that
 * of the limits above. With UVK_USE_LIVE most tables can change, and are looked up all the
 * same. */
#ifndef UVK_USE_DIRECTORY
#define UVK_USE_DIRECTORY 1
#endif

/* 0: the values of an image are believed, its checksum is enough. For an image that is built
 * in: whoever built it has looked at every value with the same reader. What is changed live is
 * looked at all the same. */
#ifndef UVK_USE_CHECKS
#define UVK_USE_CHECKS 1
#endif

/* Where const tables live. On AVR a plain const array would be copied to RAM. */
#ifdef __AVR__
#define UVK_ROM __flash
#else
#define UVK_ROM
#endif

#endif
