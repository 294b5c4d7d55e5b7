/* type_text.c - type a text on a simulated keyboard: engine, Linux port, and the host.
 *
 *   build/example_type_text boards/subtitle-desk.uvk "salt, as a line"
 *
 * Every character is looked for in the first layer; the keys are pressed on the bench, with
 * bouncing contacts, and what the host received is printed. */
#include "uvrek/bench.h"

#include <stdio.h>

/* The key of the first layer that types CHARACTER, -1 if none does. */
static int key_for(const struct uvk_program *program, gunichar character)
{
    const struct uvk_layer_text *base = &program->keymap->layers[0];
    uint8_t mods;
    uint8_t usage;

    if (!uvk_layout_find(program->keymap->layout, character, &mods, &usage)) {
        return -1;
    }
    for (unsigned key = 0; key < program->board->key_count; key++) {
        const struct uvk_value *cell = uvk_value_tap(&base->cells[key]);
        if (cell->kind == UVK_VALUE_USAGE && cell->page == 0x07 && cell->usage == usage &&
            cell->mods == mods) {
            return (int)key;
        }
    }
    return -1;
}

/* 30 ms down, 30 ms up. */
static void tap(struct uvk_rig *rig, unsigned key)
{
    uvk_rig_press(rig, key, true);
    uvk_rig_run(rig, 30000, NULL);
    uvk_rig_press(rig, key, false);
    uvk_rig_run(rig, 30000, NULL);
}

static void type(const struct uvk_program *program, struct uvk_rig *rig, const char *text)
{
    for (; *text != '\0'; text = g_utf8_next_char(text)) {
        int key = key_for(program, g_utf8_get_char(text));
        if (key < 0) {
            printf("no key of the first layer types '%.*s'\n",
                   (int)(g_utf8_next_char(text) - text), text);
        } else {
            tap(rig, (unsigned)key);
        }
    }
}

int main(int argc, char **argv)
{
    struct uvk_rig_options options = {.seed = 1, .bounce = UVK_BOUNCE_DEFAULT};
    struct uvk_program *program;
    struct uvk_rig *rig;
    uint8_t *image;
    uint16_t size;
    char *received;

    if (argc != 3) {
        fprintf(stderr, "usage: %s FILE.uvk TEXT\n", argv[0]);
        return 2;
    }
    program = uvk_program_load(argv[1]);
    if (program->messages.errors > 0 || program->keymap == NULL ||
        (image = uvk_lower(program, &size)) == NULL) {
        fprintf(stderr, "%s is not well; `uvrek check` says why\n", argv[1]);
        uvk_program_free(program);
        return 1;
    }
    rig = uvk_rig_native(program, image, size, &options, NULL);
    uvk_rig_run(rig, 20000, NULL);
    type(program, rig, argv[2]);
    uvk_rig_settle(rig, NULL);
    received = uvk_host_take_text(uvk_rig_host(rig));
    printf("the host received \"%s\"\n", received);
    g_free(received);
    uvk_rig_free(rig);
    g_free(image);
    uvk_program_free(program);
    return 0;
}
