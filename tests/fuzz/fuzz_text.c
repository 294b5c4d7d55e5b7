/* libFuzzer: a text that may be anything. It is read, told about, and, if it is sound,
 * lowered: the reader on the keyboard's side has to take what the writer made. */
#include "uvrek/text.h"

#include <stdlib.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct uvk_program *program =
        uvk_program_read("/nowhere/fuzz.uvk", (const char *)data, size);

    for (guint i = 0; i < program->messages.list->len; i++) {
        g_free(uvk_message_render(g_ptr_array_index(program->messages.list, i), false));
    }
    if (program->messages.errors == 0 && program->board != NULL && program->keymap != NULL) {
        uint16_t length;
        uint8_t *image = uvk_lower(program, &length);
        struct uvk_image opened;
        if (image != NULL && uvk_image_open(&opened, image, length) != UVK_OK) {
            abort();
        }
        g_free(image);
    }
    uvk_program_free(program);
    return 0;
}
