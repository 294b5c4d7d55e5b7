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

static bool begin(struct sim *sim)
{
    sim->seed = 1;
    sim->picofarads = 100;
    sim->levels = chip_levels;
    sim->idle_cycles = UINT64_MAX;
    sim->changes = calloc(CHANGES_MAX, sizeof *sim->changes);
    return sim->changes != NULL;
}

static void end(struct sim *sim)
{
    if (sim->chip != NULL) {
        chip_free(sim);
    }
    uvk_electric_free(sim->net);
    free(sim->symbols_path);
    free(sim->changes);
}

int main(void)
{
    static struct sims sims;
    char *line = malloc(LINE_MAX_BYTES);
    bool well = line != NULL;

    open_standard_files();
    for (unsigned i = 0; i < 2; i++) {
        well = begin(&sims.sims[i]) && well;
    }
    while (well && fgets(line, LINE_MAX_BYTES, stdin) != NULL) {
        line[strcspn(line, "\n")] = '\0';
        if (!command_run(&sims, line)) {
            break;
        }
        fflush(stdout);
    }
    for (unsigned i = 0; i < 2; i++) {
        end(&sims.sims[i]);
    }
    free(line);
    return 0;
}
