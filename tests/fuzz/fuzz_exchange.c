/* libFuzzer: JSON that may be anything. What is taken is a text without mistakes. */
#include "uvrek/exchange.h"

#include <stdlib.h>
#include <string.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    GPtrArray *problems = uvk_exchange_problems();
    char *text = uvk_exchange_read((const char *)data, size, problems);

    if ((text == NULL) != (problems->len > 0)) {
        abort();
    }
    if (text != NULL) {
        struct uvk_program *program = uvk_program_read("fuzz.uvk", text, strlen(text));
        if (program->messages.errors > 0) {
            abort();
        }
        uvk_program_free(program);
    }
    g_ptr_array_unref(problems);
    g_free(text);
    return 0;
}
