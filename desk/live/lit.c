/* lit.c - what an image says of lights, as the text would. */
#include "lift.h"

#include "uvrek/names.h"

#define A_PERIOD 16777216.0 /* of the pace: 2^24 */

/* The pace has 16 bits: within half a thousandth the time that was written, which was a round
 * one. */
static char *period_text(const struct uvk_light *light)
{
    unsigned ms = (unsigned)(A_PERIOD / light->pace + 0.5);
    unsigned tens = (ms + 5) / 10 * 10;

    ms = (unsigned)(A_PERIOD / tens + 0.5) == light->pace ? tens : ms;
    return ms % 500 == 0 ? g_strdup_printf("%u%ss", ms / 1000, ms % 1000 == 0 ? "" : ".5")
                         : g_strdup_printf("%ums", ms);
}

static char *colour_text(struct uvk_colour colour)
{
    return g_strdup_printf("#%02x%02x%02x", colour.red, colour.green, colour.blue);
}

char *lift_lights(const struct uvk_image *image)
{
    struct uvk_light light;
    char *colour;
    char *period;
    char *text;

    if (!uvk_image_has_light(image)) {
        return NULL;
    }
    uvk_image_light(image, &light);
    colour = colour_text(light.colour);
    period = period_text(&light);
    text = g_strdup_printf("effect %s; colour %s; speed %s", uvk_effect_names[light.effect],
                           colour, period);
    g_free(colour);
    g_free(period);
    return text;
}

char *lift_light_limits(const struct uvk_image *image)
{
    struct uvk_light light;

    if (!uvk_image_has_light(image)) {
        return NULL;
    }
    uvk_image_light(image, &light);
    return g_strdup_printf("levels %u; start %u; limit %umA", light.levels, light.level,
                           light.limit);
}

char *lift_layer_light(const struct uvk_image *image, uint8_t layer)
{
    struct uvk_colour colour;

    return uvk_image_colour(image, layer, &colour) ? colour_text(colour) : NULL;
}
