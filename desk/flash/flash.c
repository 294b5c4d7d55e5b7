/* flash.c - the table of roads, and waiting. */
#include "roads.h"

#include <string.h>

static const struct road roads[] = {
    {"serial", road_by_port},
    {"uf2", road_by_drive},
};

static const struct road *road_named(const char *boot)
{
    for (size_t i = 0; i < G_N_ELEMENTS(roads); i++) {
        if (strcmp(roads[i].boot, boot) == 0) {
            return &roads[i];
        }
    }
    return NULL;
}

bool uvk_can_flash(const char *boot, GError **error)
{
    if (road_named(boot) != NULL) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "there is no flashing through a %s bootloader yet; `uvrek build` writes the "
                "files for a program that can",
                boot);
    return false;
}

#define LOOK_US 50000u /* between two looks */

char *road_wait(const struct uvk_flash_options *options, const char *what_to_press,
                char *(*look)(void *data, GError **error), void *data, GError **error)
{
    gint64 end = g_get_monotonic_time() + (gint64)options->patience * G_USEC_PER_SEC;
    GError *trouble = NULL;
    char *found = look(data, &trouble);

    if (found == NULL && trouble == NULL) {
        road_tell(options, UVK_FLASH_WAITING, what_to_press, 0, 0);
    }
    while (found == NULL && trouble == NULL && g_get_monotonic_time() < end) {
        g_usleep(LOOK_US);
        found = look(data, &trouble);
    }
    if (trouble != NULL) {
        g_propagate_error(error, trouble);
    } else if (found == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "no bootloader appeared within %u s; nothing was written",
                    options->patience);
    }
    return found;
}

bool uvk_flash(const struct uvk_chip *chip, const char *boot, const uint8_t *code, size_t size,
               const struct uvk_flash_options *options, GError **error)
{
    const struct road *road = road_named(boot);

    return road != NULL ? road->take(chip, code, size, options, error)
                        : uvk_can_flash(boot, error);
}
