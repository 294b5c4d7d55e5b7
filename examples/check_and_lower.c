/* check_and_lower.c - read a keymap, show its mistakes, make its image.
 *
 *   build/example_check_and_lower boards/subtitle-desk.uvk desk.image
 */
#include "uvrek/files.h"
#include "uvrek/image.h"
#include "uvrek/text.h"

#include <stdio.h>

/* All messages, as `uvrek check` shows them. */
static void show_messages(const struct uvk_program *program)
{
    for (guint i = 0; i < program->messages.list->len; i++) {
        char *text = uvk_message_render(g_ptr_array_index(program->messages.list, i), false);
        fputs(text, stderr);
        g_free(text);
    }
}

/* What a keyboard would find in the image. */
static void show_image(const uint8_t *bytes, uint16_t size)
{
    struct uvk_image image;

    if (uvk_image_open(&image, bytes, size) == UVK_OK) {
        printf("%u bytes: %u keys, %u layers, %u lines of %u switches\n", size, image.keys,
               image.layers, image.lines, image.senses);
    }
}

int main(int argc, char **argv)
{
    struct uvk_program *program;
    uint8_t *image = NULL;
    uint16_t size;
    GError *error = NULL;
    int status = 1;

    if (argc != 3) {
        fprintf(stderr, "usage: %s FILE.uvk IMAGE\n", argv[0]);
        return 2;
    }
    program = uvk_program_load(argv[1]);
    if (program->messages.errors == 0 && program->keymap != NULL) {
        image = uvk_lower(program, &size);
    }
    show_messages(program);
    if (image != NULL) {
        show_image(image, size);
        status = 0;
    }
    if (image != NULL && !uvk_file_write(argv[2], image, size, &error)) {
        fprintf(stderr, "%s\n", error->message);
        g_error_free(error);
        status = 2;
    }
    g_free(image);
    uvk_program_free(program);
    return status;
}
