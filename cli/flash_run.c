/* flash_run.c - one firmware into one chip: wait for the bootloader, write, verify, see the
 * keyboard come. */
#include "flashing.h"

#include <stdio.h>
#include <unistd.h>

/* What is known while it goes on. */
struct going {
    struct shown shown;
    const struct errand *errand;
    const struct wishes *wishes;
};

static void progress(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                     size_t total)
{
    show_progress(&((struct going *)data)->shown, stage, text, done, total);
}

static bool before(void *data, const uint8_t *code, size_t size, GError **error)
{
    struct going *going = data;

    if (!look_before(going->errand, going->wishes, code, size, error)) {
        return false;
    }
    if (is_of_other_board(going->errand, code, size)) {
        show_progress(
            &going->shown, UVK_FLASH_HINT,
            "what this keyboard has kept is of the other board: it counts for nothing", 0, 0);
    }
    return true;
}

static int tell_plan(const struct errand *errand)
{
    printf("%s bytes would go to the %s of %s through its %s bootloader; nothing was written\n",
           thousands(errand->size), errand->chip->title, errand->title, errand->boot);
    return STATUS_WELL;
}

static int go(const struct errand *errand, const struct wishes *wishes, bool *seen)
{
    struct uvk_flash_options options = wishes->flash;
    struct going going = {{.title = errand->title,
                           .as_json = wishes->as_json,
                           .terminal = isatty(STDOUT_FILENO) != 0},
                          errand,
                          wishes};
    GError *error = NULL;

    options.progress = progress;
    options.before = before;
    options.data = &going;
    catch_interrupt();
    if (!uvk_flash(errand->chip, errand->boot, errand->code, errand->size, &options, &error)) {
        return show_failure(&going.shown, error);
    }
    if (seen != NULL) {
        *seen = going.shown.last == UVK_FLASH_RUNNING;
    }
    if (wishes->save != NULL && !wishes->as_json) {
        printf("a copy of what was in the chip is in %s\n", wishes->save);
    }
    return STATUS_WELL;
}

int run_errand(const struct errand *errand, const struct wishes *wishes, bool *seen)
{
    GError *error = NULL;

    if (wishes->rule != NULL) {
        return write_rule(wishes->rule, errand, wishes);
    }
    if (!uvk_can_flash(errand->boot, &error) ||
        (wishes->save != NULL && !can_save(wishes->save, errand->chip, &error))) {
        return print_problem(error);
    }
    return wishes->dry_run ? tell_plan(errand) : go(errand, wishes, seen);
}
