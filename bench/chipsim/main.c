/* main.c - lines of text in, one command after the other. */
#include "chipsim.h"

#include <fcntl.h>
#include <stdlib.h>
#include <string.h>

#define LINE_MAX_BYTES (2u * FLASH_MAX + 64u)

/* What is meant for the bench goes nowhere else, even if these were closed. */
static void open_standard_files(void)
{
    for (int file = 0; file <= 2; file++) {
        if (fcntl(file, F_GETFD) < 0) {
            (void)open("/dev/null", O_RDWR);
        }
    }
}

int main(void)
{
    struct sim sim = {
        .seed = 1, .picofarads = 100, .levels = chip_levels, .idle_cycles = UINT64_MAX};
    char *line = malloc(LINE_MAX_BYTES);

    open_standard_files();

    sim.changes = calloc(CHANGES_MAX, sizeof *sim.changes);
    while (line != NULL && sim.changes != NULL && fgets(line, LINE_MAX_BYTES, stdin) != NULL) {
        line[strcspn(line, "\n")] = '\0';
        if (!command_run(&sim, line)) {
            break;
        }
        fflush(stdout);
    }
    if (sim.chip != NULL) {
        chip_free(&sim);
    }
    uvk_electric_free(sim.net);
    free(sim.symbols_path);
    free(sim.changes);
    free(line);
    return 0;
}
