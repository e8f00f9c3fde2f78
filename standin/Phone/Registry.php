<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Phone\SignUp;

/**
 * The stand-in for the messenger's registry of numbers: gives codes by text and by call, three of each in a day and
 * with growing waits, and knows which phone has a number. One file beside the phones.
 *
 * @phpstan-type Asked array{way: string, at: int}
 * @phpstan-type Entry array{asked: list<Asked>, code: string|null, wrong: int}
 */
final class Registry
{
    public const TEXT = 'text';
    public const CALL = 'call';
    /** Codes by each way in a day. */
    public const MOST = 3;
    private const DAY = 86_400;
    /** Seconds after the first, second, … code of a day until another can be asked for. */
    private const WAITS = [60, 300, 900, 3_600, 14_400];
    /** Wrong codes until a code is void. */
    private const WRONG = 3;

    public function __construct(private readonly string $folder)
    {
    }

    public static function of(PhoneFolder $phone): self
    {
        return new self(dirname($phone->path));
    }

    /** @return array{texts_left: int, calls_left: int, next_at: int|null, code: string|null} s since 1970 UTC */
    public function state(string $app, string $number, int $now): array
    {
        $entry = $this->entry($this->read(), $app, $number, $now);
        $left = static fn (string $way): int => max(0, self::MOST - count(array_filter(
            $entry['asked'], static fn (array $asked): bool => $asked['way'] === $way,
        )));
        $next = self::nextAt($entry['asked']);

        return [
            'texts_left' => $left(self::TEXT), 'calls_left' => $left(self::CALL),
            'next_at' => null !== $next && $next > $now ? $next : null, 'code' => $entry['code'],
        ];
    }

    /** @throws HandRefused when none can be had now */
    public function ask(string $app, string $number, string $way, int $now): void
    {
        $this->change(function (array $all) use ($app, $number, $way, $now): array {
            $state = $this->state($app, $number, $now);
            if (0 === $state[self::TEXT === $way ? 'texts_left' : 'calls_left'] || null !== $state['next_at']) {
                throw HandRefused::notOffered();
            }
            $entry = $this->entry($all, $app, $number, $now);
            $all["$app $number"] = [
                'asked' => [...$entry['asked'], ['way' => $way, 'at' => $now]],
                'code' => sprintf('%06d', random_int(0, 999_999)), 'wrong' => 0,
            ];

            return $all;
        });
    }

    /** @throws HandRefused when it is not the code */
    public function enter(string $app, string $number, string $code, int $now): void
    {
        $isRight = false;
        $this->change(function (array $all) use ($app, $number, $code, $now, &$isRight): array {
            $entry = $this->entry($all, $app, $number, $now);
            $digits = (string) preg_replace('/\D/', '', $code);
            $isRight = null !== $entry['code'] && hash_equals($entry['code'], $digits);
            $entry['wrong'] += $isRight ? 0 : 1;
            // Used once, or guessed at too often: another has to be asked for.
            $entry['code'] = $isRight || $entry['wrong'] >= self::WRONG ? null : $entry['code'];
            $all["$app $number"] = $entry;

            return $all;
        });
        if (!$isRight) {
            throw HandRefused::wrongCode();
        }
    }

    public function signUp(string $app, string $number, string $wants, int $now): SignUp
    {
        $state = $this->state($app, $number, $now);
        $wants = SignUp::WANTS_CODE === $wants && null === $state['code'] ? SignUp::WANTS_ANOTHER_CODE : $wants;

        return new SignUp(
            $number, SignUp::WANTS[$wants] ?? SignUp::WANTS_WAY, $state['texts_left'], $state['calls_left'],
            $state['next_at'],
        );
    }

    /** @param list<Asked> $asked of one day */
    private static function nextAt(array $asked): ?int
    {
        if ([] === $asked) {
            return null;
        }
        $last = max(array_column($asked, 'at'));

        return $last + self::WAITS[min(count($asked), count(self::WAITS)) - 1];
    }

    /**
     * @param array<string, Entry> $all
     *
     * @return Entry what counts today
     */
    private function entry(array $all, string $app, string $number, int $now): array
    {
        $entry = $all["$app $number"] ?? ['asked' => [], 'code' => null, 'wrong' => 0];
        $entry['asked'] = array_values(array_filter(
            $entry['asked'], static fn (array $asked): bool => $now - $asked['at'] < self::DAY,
        ));

        return $entry;
    }

    /** @return array<string, Entry> */
    private function read(): array
    {
        $all = json_decode((string) @file_get_contents($this->folder.'/registry.json'), true, 8);
        /** @var array<string, Entry> $entries written by this class alone */
        $entries = is_array($all) ? $all : [];

        return $entries;
    }

    /** @param callable(array<string, Entry>): array<string, Entry> $change */
    private function change(callable $change): void
    {
        $lock = Disk::open($this->folder.'/registry.lock', 'c');
        if (!flock($lock, \LOCK_EX)) {
            throw new \RuntimeException('The stand-in registry can\'t be locked.');
        }
        try {
            Disk::put($this->folder.'/registry.json', json_encode($change($this->read()), \JSON_THROW_ON_ERROR));
        } finally {
            fclose($lock);
        }
    }
}
