/* roads.h - the ways into a chip, and what they share. */
#ifndef UVREK_ROADS_H
#define UVREK_ROADS_H

#include "uvrek/flash.h"

/* One attempt to find a bootloader and to use it. */
struct visit {
    const struct uvk_chip *chip;
    const struct uvk_flash_options *options;
    char **before; /* serial ports that were there when it began */
    bool hinted;   /* what was in the way has been told */
};

/* One way: how it is called in board files, what to say, how to find it, how to write. */
struct road {
    const char *boot;
    const char *press; /* what brings a board into its bootloader, as `Start the bootloader: ` */
    /* Add the names of all that are there to FOUND. False and *ERROR: there is no use in
     * waiting. */
    bool (*look)(struct visit *visit, GPtrArray *found, GError **error);
    /* Write CODE to the one called NAME, unless that is NULL; ask options.before first. */
    bool (*write)(struct visit *visit, const char *name, const uint8_t *code, size_t size,
                  GError **error);
    /* Does the host see the keyboard itself on USB, where this one was? */
    bool (*on_usb)(const char *name);
};

extern const struct road road_port, road_drive, road_device;

/* wait.c: ask the road, again and again, until one bootloader is there or patience has run out;
 * what is to be pressed is told in between. NULL and *ERROR: nothing appeared, or more than
 * one. Freed with g_free. */
char *road_wait(const struct road *road, struct visit *visit, GError **error);

/* appear.c: the names of all keyboards that are there with the board's ids; NULL: nobody can
 * know. And wait for one that is not among them. */
GPtrArray *road_keyboards(const struct uvk_flash_options *options);
bool road_await_keyboard(const struct uvk_flash_options *options, const GPtrArray *before,
                         GError **error);

/* told.c: bytes before the bootloader's own pages. Does CODE fit there? */
size_t road_room(const struct uvk_chip *chip);
bool road_fits(const struct uvk_chip *chip, const uint8_t *code, size_t size, GError **error);

/* told.c: tell what is in the chip, CODE is NULL if nobody knows; may the road go on? */
bool road_before(const struct uvk_flash_options *options, const uint8_t *code, size_t size,
               GError **error);

/* told.c: false; *ERROR also says that the chip is empty now, and what that means. */
bool road_emptied(GError **error);

static inline void road_tell(const struct uvk_flash_options *options,
                             enum uvk_flash_stage stage, const char *text, size_t done,
                             size_t total)
{
    if (options->progress != NULL) {
        options->progress(options->data, stage, text, done, total);
    }
}

#endif
