/* joined.c - a keyboard in two halves is asked whether they understand one another. */
#include "roads.h"

#define LOOK_US 200000u

bool road_ask_halves(const struct uvk_flash_options *options,
                     const struct uvk_usb_device *device, struct uvk_halves_told *told)
{
    struct uvk_cable *cable =
        uvk_cable_open(options->usbip, device->name, UVK_CONTROL_PIPE, NULL);
    bool good = cable != NULL && uvk_halves_ask(cable, told, NULL);

    uvk_cable_close(cable);
    return good;
}

/* What the first keyboard that answers says. */
static bool look(const struct uvk_flash_options *options, struct uvk_halves_told *told)
{
    GPtrArray *keyboards = road_keyboards(options);
    bool answered = false;

    for (guint i = 0; keyboards != NULL && i < keyboards->len && !answered; i++) {
        answered = road_ask_halves(options, keyboards->pdata[i], told);
    }
    g_clear_pointer(&keyboards, g_ptr_array_unref);
    return answered;
}

bool uvk_await_halves(const struct uvk_flash_options *options, struct uvk_halves_told *told,
                      GError **error)
{
    gint64 end = g_get_monotonic_time() + (gint64)options->patience * G_USEC_PER_SEC;
    const char *said = NULL;
    bool answered;

    do {
        const char *trouble;
        answered = look(options, told);
        trouble = answered ? uvk_half_trouble_text(told->trouble) : NULL;
        if (answered && trouble == NULL) {
            return true;
        }
        if (trouble != NULL && trouble != said) {
            road_tell(options, UVK_FLASH_HINT, trouble, 0, 0);
        }
        said = trouble;
        g_usleep(LOOK_US);
    } while (g_get_monotonic_time() < end);
    g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL, "%s; stopped waiting after %u s",
                said != NULL ? said : "no keyboard of the board has said how its halves are",
                options->patience);
    return false;
}
