/* support.h - what the tests share: programs from text, keyboards on the bench. */
#ifndef UVREK_TESTS_SUPPORT_H
#define UVREK_TESTS_SUPPORT_H

#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>
/* cmocka wants those four first */
#include <cmocka.h>

#include "uvrek/bench.h"
#include "uvrek/firmware.h"
#include "uvrek/text.h"

/* Nine keys, diodes from row to column. */
#define BOARD9                                                                                 \
    "board nine {\n chip atmega32u4\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"    \
    " matrix { rows B1 B3 B2; cols F4 F5 F6; flow row->col }\n"                                \
    " keys {\n r0c0 r0c1 r0c2\n r1c0 r1c1 r1c2\n r2c0 r2c1 r2c2\n }\n}\n"

/* The same with a knob beside the first line. */
#define BOARD9_KNOB                                                                            \
    "board nine {\n chip atmega32u4\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"    \
    " matrix { rows B1 B3 B2; cols F4 F5 F6; flow row->col }\n knob jog { pins D0 D1 }\n"      \
    " keys {\n r0c0 r0c1 r0c2 =jog\n r1c0 r1c1 r1c2\n r2c0 r2c1 r2c2\n }\n}\n"

/* The same board with one layer. */
#define KEYMAP9(cells) BOARD9 "keymap k {\n host linux us\n layer base {\n" cells "\n }\n}\n"

/* A program without errors, or the test fails and shows them. */
struct uvk_program *good_program(const char *text);

/* The image of a program without errors. */
struct made {
    struct uvk_program *program;
    uint8_t *bytes;
    struct uvk_image image;
};
struct made make_image(const char *text);
void clear_image(struct made *made);

/* The same board with another chip: the pins that the other one has in their places. */
void move_to_chip(struct uvk_program *program, const char *chip);

/* A file of boards/ by its name, without errors. */
struct uvk_program *shipped(const char *name);

/* A native keyboard for TEXT. */
struct desk {
    struct uvk_program *program;
    uint8_t *image;
    uint16_t size;
    struct uvk_rig *rig;
};
void desk_open(struct desk *desk, const char *text, const struct uvk_rig_options *options);
void desk_close(struct desk *desk);

/* Do the steps (one a line); the test fails when an expectation does. */
void desk_do(struct desk *desk, const char *steps);

/* All plays of TEXT pass on a native keyboard. */
void plays_pass(const char *text);

/* The messages of TEXT, one a line: "U021 3:9 no key or name ..." Freed with g_free. */
char *messages_of(const char *text);
char *messages_of_program(const struct uvk_program *program);

/* Under the sanitizers every round is slow: fewer of them. */
bool few_rounds(void);

/* Setup of tests of the command line: the build's programs in PATH, a cache of their own,
 * $SCRATCH, the sources as the current folder. */
int command_line_set_up(void **state);

/* A folder for the test, gone with its contents when the test's program ends. */
const char *scratch_folder(void);
char *scratch_file(const char *name, const char *contents);

#endif
