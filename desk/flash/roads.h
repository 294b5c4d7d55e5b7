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
    const char *sight; /* what one is called that is there */
    const char
        *press; /* what brings a board into its bootloader, as `Start the bootloader: ` */
    /* Add the names of all that are there to FOUND. False and *ERROR: there is no use in
     * waiting. */
    bool (*look)(struct visit *visit, GPtrArray *found, GError **error);
    /* Write CODE to the one called NAME, unless that is NULL; ask options.before first. */
    bool (*write)(struct visit *visit, const char *name, const uint8_t *code, size_t size,
                  GError **error);
    /* Does the host see the keyboard itself on USB, where this one was? */
    bool (*on_usb)(const char *name);
    /* What is missing in this program for it; NULL: nothing. */
    const char *(*missing)(void);
    /* May this user open the one called NAME, or with NULL any of them? False: *ERROR. */
    bool (*may)(const char *name, GError **error);
};

extern const struct road road_port, road_drive, road_device;

/* flash.c: the road to bootloaders of the kind BOOT; NULL: there is none. */
const struct road *road_named(const char *boot);

/* wait.c: ask the road, again and again, until one bootloader is there or patience has run out;
 * what is to be pressed is told in between. NULL and *ERROR: nothing appeared, or more than
 * one. Freed with g_free. */
char *road_wait(const struct road *road, struct visit *visit, GError **error);

/* appear.c: all keyboards that are there with the board's ids; NULL: nobody can know. What one
 * is called, freed with g_free. And wait for one that is not among those BEFORE. */
GPtrArray *road_keyboards(const struct uvk_flash_options *options);

/* joined.c: how the halves of DEVICE are. False: it does not say. */
bool road_ask_halves(const struct uvk_flash_options *options,
                     const struct uvk_usb_device *device, struct uvk_halves_told *told);
char *road_keyboard_text(const struct uvk_flash_options *options,
                         const struct uvk_usb_device *device);
bool road_await_keyboard(const struct uvk_flash_options *options, const GPtrArray *before,
                         GError **error);

/* told.c: bytes before the bootloader's own pages. Does CODE fit there? */
size_t road_room(const struct uvk_chip *chip);
bool road_fits(const struct uvk_chip *chip, const uint8_t *code, size_t size, GError **error);

/* told.c: tell what is in the chip, CODE is NULL if nobody knows; may the road go on? */
bool road_before(const struct uvk_flash_options *options, const uint8_t *code, size_t size,
                 GError **error);

/* told.c: the same of a bootloader that is asked for it: READ gets ROOM bytes into CODE, and
 * says whether it was SHOWN them. False: *ERROR, of READ or of whoever wanted to know. */
typedef bool road_read(void *self, uint8_t *code, size_t room, bool *shown, GError **error);
bool road_ask_before(const struct uvk_flash_options *options, const struct uvk_chip *chip,
                     road_read *read, void *self, GError **error);

/* told.c: a drive asks for no more than its folder. */
bool road_open_to_all(const char *name, GError **error);
const char *road_nothing_missing(void);

/* told.c: false; *ERROR also says that nothing was written. */
bool road_untouched(GError **error);

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
