/* keyboard.h - the engine on the Linux port, contact by contact and report by report. */
#ifndef UVREK_TESTS_KEYBOARD_H
#define UVREK_TESTS_KEYBOARD_H

#include "support.h"

#include "uvrek/port_linux.h"

#define LINES_MAX 32

struct keyboard {
    struct uvk_program *program;
    uint8_t *image;
    uint16_t size;
    struct uvk_engine engine;
    struct uvk_port port;
    struct uvk_scan_plan scan;
    uint32_t contacts[LINES_MAX]; /* closed contacts of each line */
    bool host_fetches;
    GPtrArray *reports; /* "0:00000400.." interface and hex, as fetched */
};

void keyboard_open(struct keyboard *keyboard, const char *text);
/* Only the wires: for engines of a test's own. */
void keyboard_wire(struct keyboard *keyboard);
void keyboard_close(struct keyboard *keyboard);

/* A contact closes or opens, at once. */
void keyboard_contact(struct keyboard *keyboard, const char *address, bool closed);

/* COUNT passes of a millisecond; before each the host fetches what waits. */
void keyboard_pass(struct keyboard *keyboard, unsigned count);

/* The reports fetched since the last call are these, NULL-terminated. A report is written
 * "boot MM KK KK.." or "keys MM KK.." or "media UUUU" or "system B" or "mouse B W P". */
void assert_reports(struct keyboard *keyboard, ...);

#endif
