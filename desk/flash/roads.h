/* roads.h - the ways into a chip, and what they share. */
#ifndef UVREK_ROADS_H
#define UVREK_ROADS_H

#include "uvrek/flash.h"

/* One way: how it is called in board files, and all of it from waiting to the end. */
struct road {
    const char *boot;
    bool (*take)(const struct uvk_chip *chip, const uint8_t *code, size_t size,
                 const struct uvk_flash_options *options, GError **error);
};

bool road_by_port(const struct uvk_chip *chip, const uint8_t *code, size_t size,
                  const struct uvk_flash_options *options, GError **error);
bool road_by_drive(const struct uvk_chip *chip, const uint8_t *code, size_t size,
                   const struct uvk_flash_options *options, GError **error);

/* wait.c: ask LOOK, every 50 ms, until it has put something into *FOUND or patience has run
 * out; what is to be pressed is told in between. LOOK answers false, with *ERROR, when there is
 * no use in waiting. NULL and *ERROR: nothing appeared. */
char *road_wait(const struct uvk_flash_options *options, const char *what_to_press,
                bool (*look)(void *data, char **found, GError **error), void *data,
                GError **error);

static inline void road_tell(const struct uvk_flash_options *options,
                             enum uvk_flash_stage stage, const char *text, size_t done,
                             size_t total)
{
    if (options->progress != NULL) {
        options->progress(options->data, stage, text, done, total);
    }
}

#endif
