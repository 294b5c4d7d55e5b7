/* flash.c - the table of roads. */
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

bool uvk_flash(const struct uvk_chip *chip, const char *boot, const uint8_t *code, size_t size,
               const struct uvk_flash_options *options, GError **error)
{
    const struct road *road = road_named(boot);

    return road != NULL ? road->take(chip, code, size, options, error)
                        : uvk_can_flash(boot, error);
}
