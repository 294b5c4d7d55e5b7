/* costs.c - what leaving a feature out would save: measured, by building without it. */
#include "features.h"
#include "parts.h"

#include <string.h>

/* FEATURE and all that it brings. */
static uint32_t with_brought(enum feature feature)
{
    return FEATURE_BIT(feature) | feature_texts[feature].brings;
}

static gint by_flash(gconstpointer a, gconstpointer b)
{
    const struct uvk_cost *left = a;
    const struct uvk_cost *right = b;

    return (left->flash < right->flash) - (left->flash > right->flash);
}

/* Bytes that the linker's own rounding adds are no saving. */
static uint32_t saved(size_t with, size_t without)
{
    return with > without ? (uint32_t)(with - without) : 0;
}

GArray *uvk_build_costs(struct uvk_program *program, const struct uvk_build_options *options,
                        GError **error)
{
    struct uvk_firmware *whole = uvk_build_of_any_size(program, options, error);
    GArray *costs = g_array_new(FALSE, TRUE, sizeof(struct uvk_cost));
    struct uvk_image image;
    uint16_t size;
    uint8_t *bytes = whole != NULL ? uvk_lower(program, &size) : NULL;
    bool good = bytes != NULL && uvk_image_open(&image, bytes, size) == UVK_OK;
    uint32_t used = good ? features_of(&image) : 0;

    for (unsigned i = 0; good && i < FEATURES; i++) {
        uint32_t gone = used & with_brought((enum feature)i);
        struct uvk_firmware *less;
        if ((used & FEATURE_BIT(i)) == 0) {
            continue;
        }
        less = build_without(program, options->cache, gone, error);
        good = less != NULL;
        if (good) {
            struct uvk_cost cost = {feature_texts[i].name,
                                    saved(whole->size, less->size) +
                                        features_bytes(&image, gone),
                                    saved(whole->ram_used, less->ram_used)};
            g_array_append_val(costs, cost);
        }
        uvk_firmware_free(less);
    }
    g_array_sort(costs, by_flash);
    if (!good) {
        g_array_free(costs, TRUE);
        costs = NULL;
    }
    g_free(bytes);
    uvk_firmware_free(whole);
    return costs;
}
