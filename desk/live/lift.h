/* lift.h - an action of an image as a value of a keymap's text. */
#ifndef UVREK_LIVE_LIFT_H
#define UVREK_LIVE_LIFT_H

#include "uvrek/live.h"

struct lift {
    const struct uvk_program *program;
    const struct uvk_image *image;  /* that the actions are of */
    const struct uvk_image *wanted; /* PROGRAM's own; NULL: it need not be asked */
    /* Statements for what has no name in the text, of char *: it gets one. NULL: it is told in
     * full instead, which is for people only. */
    GPtrArray *news;
};

/* Freed with g_free. */
char *lift_text(const struct lift *lift, uvk_action action);
/* A feel as a block of the language has it: "hold-after 240ms; decide on-press". */
char *lift_feel(const struct uvk_feel *feel);
/* The name of the feel of ROW among the program's, or NULL; not to be freed. */
const char *lift_feel_name(const struct lift *lift, const struct uvk_feel *feel);
/* The lines of a dance: "tap -> x; tap tap -> y; within 200ms". Freed with g_free. */
char *lift_dance(const struct lift *lift, uvk_action action);
/* The steps of a macro: "type \"reel\"; wait 20ms". Freed with g_free. */
char *lift_macro(const struct lift *lift, uint16_t row);

/* lit.c: the block `lights`, what the board says of levels and current, the colour of a layer;
 * NULL: nothing is said. Freed with g_free. */
char *lift_lights(const struct uvk_image *image);
char *lift_light_limits(const struct uvk_image *image);
char *lift_layer_light(const struct uvk_image *image, uint8_t layer);

/* differ.c: as uvk_live_differences; NEWS as in struct lift. */
GPtrArray *differences_naming(const struct uvk_program *program, const struct uvk_image *image,
                              const struct uvk_image *wanted, const struct uvk_image *since,
                              GPtrArray *news);

#endif
