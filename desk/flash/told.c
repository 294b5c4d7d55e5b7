/* told.c - what all roads have to say, and to ask. */
#include "roads.h"

#include <string.h>

size_t road_room(const struct uvk_chip *chip)
{
    return chip->flash - chip->bootloader;
}

bool road_fits(const struct uvk_chip *chip, const uint8_t *code, size_t size, GError **error)
{
    if (code == NULL || (size > 0 && size <= road_room(chip))) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "%zu bytes do not fit before the bootloader, there is room for %zu; nothing "
                "was written",
                size, road_room(chip));
    return false;
}

bool road_before(const struct uvk_flash_options *options, const uint8_t *code, size_t size,
                 GError **error)
{
    while (code != NULL && size > 0 && code[size - 1] == 0xFF) {
        size--;
    }
    return options->before(options->data, code, size, error);
}

bool road_ask_before(const struct uvk_flash_options *options, const struct uvk_chip *chip,
                     road_read *read, void *self, GError **error)
{
    size_t room = road_room(chip);
    bool shown = true;
    uint8_t *code;
    bool good;

    if (options->before == NULL) {
        return true;
    }
    code = g_malloc(room);
    good = read(self, code, room, &shown, error) &&
           road_before(options, shown ? code : NULL, shown ? room : 0, error);
    g_free(code);
    return good;
}

/* MORE behind the message. */
static bool add_to(GError **error, const char *more)
{
    if (error != NULL && *error != NULL) {
        char *text = g_strconcat((*error)->message, more, NULL);
        g_free((*error)->message);
        (*error)->message = text;
    }
    return false;
}

bool road_untouched(GError **error)
{
    static const char words[] = "nothing was written";
    bool said = error != NULL && *error != NULL && strstr((*error)->message, words) != NULL;

    return !said && add_to(error, "; nothing was written");
}

bool road_emptied(GError **error)
{
    return add_to(error,
                  "; the keyboard holds no whole firmware now; its bootloader is still there, "
                  "so that it can be flashed again");
}

bool road_open_to_all(const char *name, GError **error)
{
    (void)name;
    (void)error;
    return true;
}

const char *road_nothing_missing(void)
{
    return NULL;
}
