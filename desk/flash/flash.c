/* flash.c - the table of roads, and what is done on each. */
#include "roads.h"

#include <string.h>

static const struct road *const roads[] = {&road_port, &road_drive, &road_device};

const struct road *road_named(const char *boot)
{
    for (size_t i = 0; i < G_N_ELEMENTS(roads); i++) {
        if (strcmp(roads[i]->boot, boot) == 0) {
            return roads[i];
        }
    }
    return NULL;
}

bool uvk_can_flash(const char *boot, GError **error)
{
    const struct road *road = road_named(boot);
    const char *missing = road != NULL ? road->missing() : NULL;

    if (road == NULL) {
        g_set_error(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "there is no flashing through a %s bootloader yet; `uvrek build` writes the "
            "files for a program that can",
            boot);
    } else if (missing != NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, missing);
    }
    return road != NULL && missing == NULL;
}

bool uvk_may_flash(const char *boot, GError **error)
{
    const struct road *road = road_named(boot);

    return road != NULL ? road->may(NULL, error) : uvk_can_flash(boot, error);
}

/* Write to the bootloader NAME, and see the keyboard come. */
static bool use(const struct road *road, struct visit *visit, const char *name,
                const uint8_t *code, size_t size, GError **error)
{
    const struct uvk_flash_options *options = visit->options;
    bool can_know = code != NULL && (options->usbip != NULL || road->on_usb(name));
    GPtrArray *before = can_know ? road_keyboards(options) : NULL;
    char *text = g_strdup_printf("%s, at %s", road->sight, name);
    bool good;

    road_tell(options, UVK_FLASH_FOUND, text, 0, 0);
    g_free(text);
    good = road->write(visit, name, code, size, error) &&
           (before == NULL || road_await_keyboard(options, before, error));
    g_clear_pointer(&before, g_ptr_array_unref);
    return good;
}

bool uvk_flash(const struct uvk_chip *chip, const char *boot, const uint8_t *code, size_t size,
               const struct uvk_flash_options *options, GError **error)
{
    const struct road *road = road_named(boot);
    struct visit visit = {chip, options, NULL, false};
    char *name;
    bool good;

    if (road == NULL) {
        return uvk_can_flash(boot, error);
    }
    visit.before = uvk_serial_ports();
    name = road_wait(road, &visit, error);
    good = name != NULL && use(road, &visit, name, code, size, error);
    g_strfreev(visit.before);
    g_free(name);
    return good;
}
