/* chip.c - a rig whose chip is simulated by a program of its own, see bench/chipsim/chipsim.h.
 */
#include "chip.h"

#include "uvrek/formats.h"
#include "uvrek/halves.h"

#include <string.h>

#define RUN_US    200000u /* it is asked to run so long at a time */
#define ATTACH_MS 200u    /* a chip shows itself on the bus within that time */

static bool gone(GError **error)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                        "the chip's simulator has stopped, or does not answer");
    return false;
}

/* ---- the kind --------------------------------------------------------------------- */

static bool attach(struct chip *chip, GError **error);

/* It has restarted: the host meets it as a new device. */
static bool meet_again(struct chip *chip, GError **error)
{
    chip->returned = false;
    chip->rig.restarts++;
    return attach(chip, error);
}

static struct wired wired_of(const struct chip *chip, unsigned index)
{
    return (struct wired){chip->rig.program->board, chip_half(chip, index)};
}

/* To the chip that has the contact. */
static bool say_change(struct chip *chip, const struct contact_change *change)
{
    struct wired wired = wired_of(chip, 0);
    unsigned index;
    bool other = !wired_contact(&wired, change->key, &index);
    bool good;

    if (other) {
        wired = wired_of(chip, 1);
        (void)wired_contact(&wired, change->key, &index);
    }
    good = (!other || chip_choose(chip, 1)) &&
           chip_say(chip, "change %llu %u %d", (unsigned long long)change->at, index,
                    change->closed) != NULL;
    return (!other || chip_choose(chip, 0)) && good;
}

static bool chip_run(struct uvk_rig *rig, uint64_t until, GError **error)
{
    struct chip *chip = (struct chip *)rig;
    struct contact_change change;

    while (rig_next_change(rig, until * 1000u, &change)) {
        if (!say_change(chip, &change)) {
            return gone(error);
        }
    }
    do {
        rig->now = MIN(until, rig->now + RUN_US);
        if (chip_say(chip, "run %llu", (unsigned long long)rig->now) == NULL) {
            return gone(error);
        }
    } while (rig->now < until);
    if (chip->crash != NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the chip's program has crashed: %s",
                    chip->crash);
        return false;
    }
    return !chip->returned || meet_again(chip, error);
}

/* The layers are at the start of the engine: a count, then their order. */
static unsigned chip_layers(struct uvk_rig *rig, uint8_t *order, unsigned room)
{
    struct chip *chip = (struct chip *)rig;
    const char *text;
    uint8_t bytes[256];
    size_t size;

    if (!chip->has_symbols) {
        return 0;
    }
    text = chip_say(chip, "peek uvk_keyboard %u", 1 + rig->program->keymap->layer_count);
    size = text != NULL ? chip_hex(text, bytes, sizeof bytes) : 0;
    if (size == 0 || bytes[0] >= size || bytes[0] > room) {
        return 0;
    }
    memcpy(order, bytes + 1, bytes[0]);
    return bytes[0];
}

static int64_t chip_measure(struct uvk_rig *rig, const char *name)
{
    const char *text = chip_say((struct chip *)rig, "measure %s", name);

    return text != NULL ? g_ascii_strtoll(text, NULL, 10) : -1;
}

static char *to_hex(const uint8_t *bytes, size_t size)
{
    GString *out = g_string_new(NULL);

    for (size_t i = 0; i < size; i++) {
        g_string_append_printf(out, "%02x", bytes[i]);
    }
    return g_string_free(out, FALSE);
}

/* Control transfers take time of their own: the rig's clock follows the chip's. */
static void catch_up(struct chip *chip)
{
    const char *text = chip_say(chip, "run 0");

    chip->rig.now = text != NULL ? g_ascii_strtoull(text, NULL, 10) + 1 : chip->rig.now;
}

static enum uvk_transfer chip_control(struct uvk_rig *rig, const uint8_t setup[8],
                                      uint8_t *data, size_t *size)
{
    bool out = !(setup[0] & 0x80) && *size > 0;
    char *first = to_hex(setup, 8);
    char *second = to_hex(data, out ? *size : 0);
    const char *text = chip_say((struct chip *)rig, "setup %s %s", first, second);
    enum uvk_transfer result = UVK_TRANSFER_FAILED;

    g_free(first);
    g_free(second);
    if (text != NULL && strcmp(text, "stall") == 0) {
        result = UVK_TRANSFER_STALL;
    } else if (text != NULL && strcmp(text, "timeout") != 0) {
        result = UVK_TRANSFER_DONE;
        if (setup[0] & 0x80) {
            *size = chip_hex(text, data, *size);
        }
    }
    catch_up((struct chip *)rig);
    return result;
}

static enum uvk_transfer chip_give(struct uvk_rig *rig, unsigned endpoint,
                                   const uint8_t *packet, size_t size)
{
    char *hex = to_hex(packet, size);
    const char *text = chip_say((struct chip *)rig, "give %u %s", endpoint, hex);

    g_free(hex);
    return text == NULL || strcmp(text, "later") == 0 ? UVK_TRANSFER_FAILED
           : strcmp(text, "stall") == 0               ? UVK_TRANSFER_STALL
                                                      : UVK_TRANSFER_DONE;
}

static bool chip_protocol(struct uvk_rig *rig, bool boot, GError **error)
{
    if (!rig_set_protocol(rig, boot)) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "the keyboard refuses the protocol");
        return false;
    }
    return true;
}

static void chip_bus(struct uvk_rig *rig, enum uvk_bus_event event)
{
    static const char *const commands[] = {"suspend", "resume", "reset-then-suspend"};

    (void)chip_say((struct chip *)rig, "%s", commands[event]);
}

/* SET_REPORT of the lamps (HID 1.11, 7.2.2 and appendix B.1). Who refuses it has none. */
static bool chip_lamps(struct uvk_rig *rig, uint8_t lamps)
{
    const uint8_t setup[8] = {0x21, 0x09, 0, 2, (uint8_t)rig->boot_interface, 0, 1, 0};
    size_t size = 1;

    if (((struct chip *)rig)->attaching) {
        return false;
    }
    (void)chip_control(rig, setup, &lamps, &size);
    return true;
}

static void chip_cable(struct uvk_rig *rig, enum uvk_rig_cable cable)
{
    static const char *const words[] = {"in", "out", "crossed"};

    (void)chip_say((struct chip *)rig, "cable %s", words[cable]);
}

static void chip_noise(struct uvk_rig *rig, unsigned percent)
{
    (void)chip_say((struct chip *)rig, "noise %u", percent);
}

static char *chip_memory(struct uvk_rig *rig, unsigned half)
{
    struct chip *chip = (struct chip *)rig;
    bool other = chip->halves > 1 && chip_half(chip, 1) == (int)half;
    const char *text = chip_choose(chip, other) ? chip_say(chip, "memory") : NULL;
    char *memory = g_strdup(text);

    (void)chip_choose(chip, 0);
    return memory;
}

/* The main half is asked over USB, as a desk does it. */
static enum uvk_half_trouble chip_trouble(struct uvk_rig *rig)
{
    const struct uvk_request *request = &uvk_halves_request;
    const uint8_t setup[8] = {request->type, request->code, 0, 0, 0, 0, UVK_HALF_TOLD, 0};
    uint8_t answer[UVK_HALF_TOLD];
    size_t size = sizeof answer;
    struct uvk_halves_told told;

    return ((struct chip *)rig)->halves > 1 && !rig->in_bootloader &&
                   chip_control(rig, setup, answer, &size) == UVK_TRANSFER_DONE &&
                   uvk_halves_read(answer, size, &told)
               ? told.trouble
               : UVK_HALF_WELL;
}

static void chip_restart(struct uvk_rig *rig, unsigned half)
{
    struct chip *chip = (struct chip *)rig;
    bool other = chip->halves > 1 && chip_half(chip, 1) == (int)half;

    (void)chip_choose(chip, other);
    (void)chip_say(chip, "power");
    (void)chip_choose(chip, 0);
}

static void chip_button(struct uvk_rig *rig)
{
    struct chip *chip = (struct chip *)rig;

    rig->in_bootloader = false;
    (void)chip_say(chip, "button");
}

static void chip_free(struct uvk_rig *rig)
{
    struct chip *chip = (struct chip *)rig;

    simulator_end(&chip->simulator);
    g_free(chip->crash);
    rig_clear(rig);
    g_free(chip);
}

static const struct rig_kind chip_kind = {
    .run = chip_run,
    .layers = chip_layers,
    .measure = chip_measure,
    .control = chip_control,
    .give = chip_give,
    .bus = chip_bus,
    .button = chip_button,
    .protocol = chip_protocol,
    .cable = chip_cable,
    .noise = chip_noise,
    .restart = chip_restart,
    .memory = chip_memory,
    .trouble = chip_trouble,
    .lights = chip_lights,
    .lamps = chip_lamps,
    .timing = chip_timing,
    .free = chip_free,
};

/* ---- starting --------------------------------------------------------------------- */

static bool say_line(void *simulator, const char *line)
{
    return chip_say(simulator, "%s", line) != NULL;
}

/* The layers are seen by a symbol; a file without symbols is an error, not "no layers". */
static bool load_symbols(struct chip *chip, const char *elf, GError **error)
{
    char *path = g_canonicalize_filename(elf, NULL);
    char *hex = to_hex((const uint8_t *)path, strlen(path));
    bool good = chip_say(chip, "symbols %s", hex) != NULL;

    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the chip's simulator cannot read the symbols in %s", path);
    }
    g_free(path);
    g_free(hex);
    return good;
}

/* Machine code for the half that it gets, if it says none, and is not to REMEMBER; freed with
 * g_free.
 */
static uint8_t *code_for(const uint8_t *flash, size_t size, int half, bool remember)
{
    uint8_t *code = g_memdup2(flash, size);
    struct uvk_note note;

    if (half >= 0 && !remember && uvk_note_find(code, size, &note) &&
        note.half == UVK_HALF_ANY) {
        code[note.half_at] = half == 0 ? UVK_HALF_FIRST : UVK_HALF_SECOND;
    }
    return code;
}

/* Those that nobody opens. */
static bool close_contacts(struct chip *chip, const struct wired *wired)
{
    unsigned first;
    unsigned count = wired_closed(wired, &chip->rig.options, &first);
    bool good = true;

    for (unsigned i = 0; good && i < count; i++) {
        good = chip_say(chip, "change 0 %u 1", first + i) != NULL;
    }
    return good;
}

static bool load_chip(struct chip *chip, unsigned index, const uint8_t *flash, size_t size)
{
    struct wired wired = wired_of(chip, index);
    const char *memory = chip->rig.options.memories[MAX(wired.half, 0)];
    uint8_t *code = code_for(flash, size, wired.half, memory != NULL);
    char *hex = to_hex(code, size);
    bool good = chip_choose(chip, index) &&
                wired_tell(&wired, &chip->rig.options, say_line, chip) &&
                chip_say(chip, "load %s", hex) != NULL && close_contacts(chip, &wired) &&
                chip_watch_lights(chip) &&
                (memory == NULL || chip_say(chip, "memory %s", memory) != NULL);

    g_free(hex);
    g_free(code);
    return good;
}

/* A half that has no host has a silent bus, and is told so as soon as it could see it. */
#define SILENT_US 10000u

static bool start(struct chip *chip)
{
    bool good = true;

    for (unsigned i = chip->halves; good && i-- > 0;) {
        good = chip_choose(chip, i) && chip_say(chip, "start") != NULL;
    }
    return good;
}

static bool load(struct chip *chip, const uint8_t *flash, size_t size, const char *elf,
                 GError **error)
{
    const struct uvk_rig_options *options = &chip->rig.options;
    bool good = load_chip(chip, 0, flash, size);

    if (good && chip->halves > 1) {
        bool same = options->other_flash == NULL;
        good = load_chip(chip, 1, same ? flash : options->other_flash,
                         same ? size : options->other_size) &&
               chip_choose(chip, 0);
    }
    if (!good) {
        return gone(error);
    }
    if (elf != NULL && !load_symbols(chip, elf, error)) {
        return false;
    }
    if (!start(chip)) {
        return gone(error);
    }
    if (chip->halves > 1) {
        chip->attaching = true; /* it may be on the bus by then */
        (void)chip_say(chip, "run %u", SILENT_US);
        good =
            chip_choose(chip, 1) && chip_say(chip, "suspend") != NULL && chip_choose(chip, 0);
        rig_join(&chip->rig, UVK_CABLE_IN);
    }
    return good || gone(error);
}

/* Wait until the chip shows itself on the bus, and meet it. */
static bool meet(struct chip *chip, GError **error)
{
    const char *text;

    for (unsigned waited = 0; waited < ATTACH_MS; waited++) {
        if (!uvk_rig_run(&chip->rig, 1000, error)) {
            return false;
        }
        text = chip_say(chip, "attached");
        if (text != NULL && text[0] == '1') {
            break;
        }
    }
    if (chip_say(chip, "reset-bus") == NULL) {
        return gone(error);
    }
    if (!uvk_rig_run(&chip->rig, 10000, error) ||
        !rig_enumerate(&chip->rig, chip->endpoints, error)) {
        return false;
    }
    for (unsigned i = 0; i < UVK_HOST_INTERFACES; i++) {
        if (chip->endpoints[i] != 0 && chip_say(chip, "poll %u", chip->endpoints[i]) == NULL) {
            return gone(error);
        }
    }
    catch_up(chip);
    return uvk_rig_run(&chip->rig, 5000, error);
}

static bool attach(struct chip *chip, GError **error)
{
    bool good;

    chip->attaching = true;
    chip->rig.lamps = 0; /* it knows of none */
    good = meet(chip, error);
    chip->attaching = false;
    return good;
}

struct uvk_rig *uvk_rig_chip(const struct uvk_program *program, const uint8_t *flash,
                             size_t size, const char *elf,
                             const struct uvk_rig_options *options, GError **error)
{
    struct chip *chip = g_new0(struct chip, 1);

    rig_init(&chip->rig, &chip_kind, program, options);
    chip->halves = uvk_one_controller(program->board) ? 1 : 2;
    chip->has_symbols = elf != NULL;
    if (!simulator_start(&chip->simulator, program->board->chip->simulator, error) ||
        !load(chip, flash, size, elf, error) || !attach(chip, error)) {
        chip_free(&chip->rig);
        return NULL;
    }
    return &chip->rig;
}
