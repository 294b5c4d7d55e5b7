/* client.h - a client of the server for editors, in process: messages in, messages out. */
#ifndef TESTS_CLIENT_H
#define TESTS_CLIENT_H

#include "support.h"

#include "uvrek/editor.h"

#include <jansson.h>

struct client {
    struct uvk_editor *editor;
    GPtrArray *heard; /* of json_t *, that nobody has taken */
    int number;       /* of the latest request */
    char *text;       /* that is open, as the client knows it */
};

#define URI "file:///tmp/booth.uvk"

void say_text(struct client *client, const char *message);
void say(struct client *client, json_t *message); /* taken */
void tell(struct client *client, const char *method, json_t *params);

/* What it says to a request: "result", or "error". Freed with json_decref. */
json_t *ask(struct client *client, const char *method, json_t *params);

/* Nothing has been said yet; and with TEXT open as URI. ENCODING NULL: the client says nothing
 * of it. */
void begin(struct client *client);
void begin_with(struct client *client, const char *text, const char *encoding);
void open_text(struct client *client, const char *uri, const char *text);
void end(struct client *client);

/* What is wrong with URI now, as the client was told. NULL: it was told nothing. */
json_t *wrong_with(struct client *client, const char *uri);

/* The first byte of WORD in the text, as a position in UTF-16; OFF bytes behind it. */
json_t *position_of(const struct client *client, const char *word, unsigned off);

/* That, and which text: parameters of a request. So is the text alone, and a range of it. */
json_t *at(const struct client *client, const char *word, unsigned off);
json_t *whole(void);
json_t *from_to(const struct client *client, const char *first, const char *behind);

void assert_says(const json_t *json, const char *part);
void assert_code(const json_t *error, int code);

#define BOOTH                                                                                  \
    BOARD9_KNOB                                                                                \
    "keymap booth {\n  host linux us\n  macro cue { type \"reel \" }\n"                        \
    "  feel calm { hold-after 240ms }\n  let undo = ctrl+z\n"                                  \
    "  layer base {\n    a b c\n    d/shift ~calm cue nav\n    undo g h\n"                     \
    "    knob jog volume-down volume-up\n  }\n"                                                \
    "  layer nav {\n    . . .\n    . up .\n    left cue board:bootloader\n  }\n}\n"

#endif
