/* commands.c - the lines that the bench sends. */
#include "chipsim.h"

#include <stdlib.h>
#include <string.h>

#define WORDS_MAX 40

struct words {
    char *word[WORDS_MAX];
    int count;
};

static void answer(const char *text)
{
    printf("%s\n", text);
}

static void print_hex(const uint8_t *bytes, size_t size)
{
    for (size_t i = 0; i < size; i++) {
        printf("%02x", bytes[i]);
    }
    putchar('\n');
}

/* Bytes written as hex; how many. */
static size_t parse_hex(const char *text, uint8_t *out, size_t room)
{
    size_t count = 0;

    for (; text[0] != '\0' && text[1] != '\0' && count < room; text += 2) {
        const char digits[3] = {text[0], text[1], '\0'};
        out[count++] = (uint8_t)strtoul(digits, NULL, 16);
    }
    return count;
}

static void wires(struct sim *sim, const struct words *words)
{
    unsigned numbers[5];

    for (int i = 0; i < 5; i++) {
        numbers[i] = (unsigned)strtoul(words->word[i + 1], NULL, 10);
    }
    if (numbers[0] == 0 || numbers[3] == 0 || numbers[4] >= 1000) {
        answer("error no wires are like that");
        return;
    }
    sim->picofarads = numbers[0];
    sim->levels = (struct uvk_levels){numbers[1], numbers[2], numbers[3], numbers[4]};
    answer("ok");
}

static void pins(struct sim *sim, const struct words *words)
{
    sim->pin_count = 0;
    for (int i = 1; i < words->count; i++) {
        if (sim->pin_count == PINS_MAX || !chip_has_pin(words->word[i])) {
            answer("error no such pin");
            return;
        }
        snprintf(sim->pin[sim->pin_count++], sizeof sim->pin[0], "%s", words->word[i]);
    }
    uvk_electric_free(sim->net);
    sim->net = uvk_electric_new(sim->pin_count + 2, &sim->levels, sim->picofarads, sim->seed);
    uvk_electric_drive(sim->net, sim->pin_count, UVK_DRIVE_LOW, 0);
    uvk_electric_drive(sim->net, sim->pin_count + 1, UVK_DRIVE_HIGH, 0);
    sim->resistors = 0;
    answer("ok");
}

static void add_switch(struct sim *sim, const struct words *words)
{
    unsigned a = (unsigned)strtoul(words->word[1], NULL, 10);
    unsigned b = (unsigned)strtoul(words->word[2], NULL, 10);

    if (a > sim->pin_count + 1 || b > sim->pin_count + 1) {
        answer("error no such pin");
        return;
    }
    uvk_electric_add(sim->net, a, b, (enum uvk_diode)strtoul(words->word[3], NULL, 10));
    answer("ok");
}

static void resistor(struct sim *sim, const struct words *words)
{
    unsigned pin = (unsigned)strtoul(words->word[1], NULL, 10);

    if (pin >= sim->pin_count) {
        answer("error no such pin");
        return;
    }
    sim->resistors |= 1u << pin;
    answer("ok");
}

static void seed(struct sim *sim, const struct words *words)
{
    sim->seed = (uint32_t)strtoul(words->word[1], NULL, 10);
    answer("ok");
}

static void load(struct sim *sim, const struct words *words)
{
    static uint8_t flash[FLASH_MAX];
    size_t size = parse_hex(words->word[1], flash, sizeof flash);

    answer(size > 0 && sim->net != NULL && sim->chip == NULL && chip_load(sim, flash, size)
               ? "ok"
               : "error cannot load that");
}

/* The path is written as hex: it may have blanks. */
static void symbols(struct sim *sim, const struct words *words)
{
    size_t room = strlen(words->word[1]) / 2;

    free(sim->symbols_path);
    sim->symbols_path = calloc(1, room + 1);
    if (sim->symbols_path != NULL) {
        parse_hex(words->word[1], (uint8_t *)sim->symbols_path, room);
    }
    answer(symbol_address(sim, "uvk_keyboard") != 0 ? "ok" : "error no symbols there");
}

static void start(struct sim *sim, const struct words *words)
{
    (void)words;
    chip_start(sim);
    answer("ok");
}

static void button(struct sim *sim, const struct words *words)
{
    (void)words;
    sim->stopped = false;
    chip_button(sim);
    answer("ok");
}

static void power(struct sim *sim, const struct words *words)
{
    (void)words;
    sim->stopped = false;
    chip_power(sim);
    answer("ok");
}

static void change(struct sim *sim, const struct words *words)
{
    struct change change = {strtoull(words->word[1], NULL, 10),
                            (unsigned)strtoul(words->word[2], NULL, 10),
                            words->word[3][0] == '1'};
    size_t at;

    if (sim->change_first == sim->change_count) {
        sim->change_first = 0;
        sim->change_count = 0;
    }
    if (sim->change_count == CHANGES_MAX) {
        answer("error too many changes");
        return;
    }
    at = sim->change_count++;
    for (; at > sim->change_first && sim->changes[at - 1].at > change.at; at--) {
        sim->changes[at] = sim->changes[at - 1];
    }
    sim->changes[at] = change;
    answer("ok");
}

static void poll(struct sim *sim, const struct words *words)
{
    sim->polled = (uint16_t)(sim->polled | 1u << (strtoul(words->word[1], NULL, 10) & 0x0Fu));
    answer("ok");
}

static unsigned long long now_us(const struct sim *sim)
{
    return (unsigned long long)(chip_ns(sim) / 1000u);
}

static void memory(struct sim *sim, const struct words *words)
{
    size_t size;
    uint8_t *bytes = chip_memory(sim, &size);

    if (words->count > 1) {
        parse_hex(words->word[1], bytes, size);
        chip_memory_changed(sim);
        answer("ok");
    } else {
        printf("ok ");
        print_hex(bytes, size);
    }
}

static void half(struct sims *sims, const struct words *words)
{
    answer(halves_choose(sims, (unsigned)strtoul(words->word[1], NULL, 10))
               ? "ok"
               : "error there are two halves, 0 and 1");
}

static void link_pins(struct sims *sims, const struct words *words)
{
    answer(halves_link(sims, words->word[1], words->word[2], strtoull(words->word[3], NULL, 10))
               ? "ok"
               : "error no link is like that");
}

static void cable(struct sim *sim, const struct words *words)
{
    answer(halves_cable(sim, words->word[1]) ? "ok" : "error in, out or crossed");
}

static void noise(struct sim *sim, const struct words *words)
{
    sim->line.noise = (unsigned)strtoul(words->word[1], NULL, 10);
    if (sim->other != NULL) {
        sim->other->line.noise = sim->line.noise;
    }
    answer("ok");
}

static void poll_all(struct sim *sim)
{
    for (unsigned endpoint = 1; endpoint < 16; endpoint++) {
        uint8_t report[64];
        size_t size;
        if ((sim->polled >> endpoint & 1u) && usb_poll(sim, endpoint, report, &size)) {
            printf("report %llu %u ", now_us(sim), endpoint);
            print_hex(report, size);
        }
    }
}

/* A chip that was on the bus and restarts leaves it, and comes back. */
static void watch_bus(struct sim *sim)
{
    bool attached = usb_attached(sim);

    if (attached == sim->attached || sim->stopped) {
        return;
    }
    sim->attached = attached;
    sim->polled = attached ? sim->polled : 0; /* whoever comes back is a new device */
    printf("%s %llu\n", attached ? "attached" : "detached", now_us(sim));
}

/* A millisecond at a time: the host polls at the start of each frame. A chip that sleeps may
 * wake a little behind it. */
static void run(struct sim *sim, const struct words *words)
{
    uint64_t until = strtoull(words->word[1], NULL, 10) * 1000u;
    const uint64_t frame = 1000000u;

    while (chip_ns(sim) < until) {
        uint64_t next = (chip_ns(sim) / frame + 1) * frame;
        sim_run(sim, next < until ? next : until);
        if (next <= chip_ns(sim) && !sim->stopped) {
            watch_bus(sim);
            poll_all(sim);
        }
    }
    printf("ok %llu\n", now_us(sim));
}

static void reset_bus(struct sim *sim, const struct words *words)
{
    (void)words;
    usb_reset(sim);
    answer("ok");
}

static void setup(struct sim *sim, const struct words *words)
{
    static uint8_t data[DATA_MAX];
    uint8_t packet[8] = {0};
    size_t size = 0;

    parse_hex(words->word[1], packet, sizeof packet);
    if (words->count > 2) {
        size = parse_hex(words->word[2], data, sizeof data);
    }
    switch (usb_control(sim, packet, data, &size)) {
    case TRANSFER_STALL:
        answer("ok stall");
        break;
    case TRANSFER_TIMEOUT:
        answer("ok timeout");
        break;
    default:
        printf("ok ");
        print_hex(data, (packet[0] & 0x80u) ? size : 0);
        break;
    }
}

static void give(struct sim *sim, const struct words *words)
{
    uint8_t bytes[64] = {0};
    size_t size = parse_hex(words->word[2], bytes, sizeof bytes);

    switch (usb_give(sim, (unsigned)strtoul(words->word[1], NULL, 10), bytes, size)) {
    case TRANSFER_DONE:
        answer("ok");
        break;
    case TRANSFER_STALL:
        answer("ok stall");
        break;
    default:
        answer("ok later");
        break;
    }
}

static void attached(struct sim *sim, const struct words *words)
{
    (void)words;
    printf("ok %d\n", usb_attached(sim));
}

static void peek(struct sim *sim, const struct words *words)
{
    static uint8_t bytes[DATA_MAX];
    uint32_t address = symbol_address(sim, words->word[1]);
    unsigned long count = strtoul(words->word[2], NULL, 10);

    if (address == 0 || count > sizeof bytes ||
        !chip_peek(sim, address, (unsigned)count, bytes)) {
        answer("error no such symbol");
        return;
    }
    printf("ok ");
    print_hex(bytes, count);
}

static void suspend(struct sim *sim, const struct words *words)
{
    usb_suspend(sim, strcmp(words->word[0], "suspend") == 0);
    answer("ok");
}

static void reset_then_suspend(struct sim *sim, const struct words *words)
{
    (void)words;
    usb_reset_then_suspend(sim);
    answer("ok");
}

static long measured(struct sim *sim, const char *name)
{
    const struct {
        const char *name;
        long value;
    } values[] = {
        {"idle-cycles", sim->passes > 0 ? (long)sim->idle_cycles : -1},
        {"worst-cycles", sim->passes > 0 ? (long)sim->worst_cycles : -1},
        {"passes", (long)sim->passes},
        {"wakeups", (long)sim->wakeups},
    };

    if (strcmp(name, "forget") == 0) { /* start measuring anew */
        sim->idle_cycles = UINT64_MAX;
        sim->worst_cycles = 0;
        sim->passes = 0;
        (void)chip_measure(sim, name);
        return 0;
    }
    for (size_t i = 0; i < sizeof values / sizeof values[0]; i++) {
        if (strcmp(values[i].name, name) == 0) {
            return values[i].value;
        }
    }
    return chip_measure(sim, name);
}

static void measure(struct sim *sim, const struct words *words)
{
    printf("ok %ld\n", measured(sim, words->word[1]));
}

static void watch(struct sim *sim, const struct words *words)
{
    shown_watch(sim, words->word[1]);
}

static void lit(struct sim *sim, const struct words *words)
{
    shown_brightness(sim, words->word[1]);
}

static void strip(struct sim *sim, const struct words *words)
{
    shown_strip(sim, words->word[1]);
}

static const struct {
    const char *name;
    int words; /* at least */
    bool needs_chip;
    void (*run)(struct sim *, const struct words *);
} commands[] = {
    {"wires", 6, false, wires},
    {"resistor", 2, false, resistor},
    {"pins", 2, false, pins},
    {"switch", 4, false, add_switch},
    {"seed", 2, false, seed},
    {"load", 2, false, load},
    {"symbols", 2, false, symbols},
    {"start", 1, true, start},
    {"button", 1, true, button},
    {"change", 4, true, change},
    {"poll", 2, true, poll},
    {"run", 2, true, run},
    {"reset-bus", 1, true, reset_bus},
    {"setup", 2, true, setup},
    {"attached", 1, true, attached},
    {"peek", 3, true, peek},
    {"suspend", 1, true, suspend},
    {"resume", 1, true, suspend},
    {"measure", 2, true, measure},
    {"reset-then-suspend", 1, true, reset_then_suspend},
    {"memory", 1, true, memory},
    {"power", 1, true, power},
    {"cable", 2, true, cable},
    {"noise", 2, true, noise},
    {"give", 3, true, give},
    {"watch", 2, true, watch},
    {"lit", 2, true, lit},
    {"strip", 2, true, strip},
};

/* Those that are about both chips. */
static const struct {
    const char *name;
    int words; /* at least */
    void (*run)(struct sims *, const struct words *);
} pair_commands[] = {{"half", 2, half}, {"link", 4, link_pins}};

static bool run_pair_command(struct sims *sims, const struct words *words)
{
    for (size_t i = 0; i < sizeof pair_commands / sizeof pair_commands[0]; i++) {
        if (strcmp(pair_commands[i].name, words->word[0]) == 0 &&
            words->count >= pair_commands[i].words) {
            pair_commands[i].run(sims, words);
            return true;
        }
    }
    return false;
}

static bool run_command(struct sim *sim, const struct words *words)
{
    for (size_t i = 0; i < sizeof commands / sizeof commands[0]; i++) {
        if (strcmp(commands[i].name, words->word[0]) != 0) {
            continue;
        }
        if (words->count < commands[i].words || (commands[i].needs_chip && sim->chip == NULL)) {
            answer("error that command needs more");
        } else {
            commands[i].run(sim, words);
        }
        return true;
    }
    return false;
}

bool command_run(struct sims *sims, char *line)
{
    struct words words = {.count = 0};

    for (char *word = strtok(line, " "); word != NULL && words.count < WORDS_MAX;
         word = strtok(NULL, " ")) {
        words.word[words.count++] = word;
    }
    if (words.count == 0 || strcmp(words.word[0], "quit") == 0) {
        return false;
    }
    if (!run_pair_command(sims, &words) && !run_command(&sims->sims[sims->chosen], &words)) {
        answer("error unknown command");
    }
    return true;
}
