<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Phone\SignUp;

/**
 * The hands at a messenger in which a number is registered: number, way, code, PIN, and no to what it offers from the
 * net. Who registers a number signs out whoever had it.
 *
 * @phpstan-import-type State from PhoneFolder
 * @phpstan-import-type App from PhoneFolder
 * @phpstan-import-type Offer from Hands
 */
final class SigningUp
{
    /** What the hands type something for, under "hands" in translations/. */
    public const TYPED = ['register', 'enter_code', 'enter_pin'];
    /** Messages that a phone fetches from the net when its owner says yes. */
    private const FETCHED = 30;

    /**
     * @param App $app
     *
     * @return list<Offer>
     */
    public static function offered(PhoneFolder $phone, array $app, int $now): array
    {
        $offer = static fn (string $act): array => [
            'act' => $act.' '.$app['id'], 'words' => $act, 'app' => $app['name'],
        ];
        if ($app['offers_cloud'] ?? false) {
            return [$offer('decline_cloud'), $offer('take_cloud')];
        }
        $signUp = self::of($phone, $app, $now);
        if (null === $signUp) {
            return [
                $offer('register'),
                ...(null !== $app['number'] && isset($app['pin']) ? [$offer('pin_off')] : []),
            ];
        }
        $acts = match ($signUp->wants) {
            SignUp::WANTS_CODE => ['enter_code'],
            SignUp::WANTS_PIN => ['enter_pin'],
            SignUp::WANTS_NOTHING => ['go_on'],
            default => [],
        };
        $isPast = in_array($signUp->wants, [SignUp::WANTS_PIN, SignUp::WANTS_NOTHING], true);
        if (!$isPast && null === $signUp->nextAskAt) {
            $acts = [
                ...$acts, ...($signUp->textsLeft > 0 ? ['ask_text'] : []),
                ...($signUp->callsLeft > 0 ? ['ask_call'] : []),
            ];
        }

        return array_map($offer, [...$acts, 'leave_sign_up']);
    }

    /** @param App $app */
    public static function of(PhoneFolder $phone, array $app, int $now): ?SignUp
    {
        $begun = $app['sign_up'] ?? null;
        if (null === $begun) {
            return null;
        }
        $isPinOff = SignUp::WANTS_PIN === $begun['wants'] && null === self::pin($phone, $app['id'], $begun['number']);
        $wants = $isPinOff ? SignUp::WANTS_NOTHING : $begun['wants'];

        return Registry::of($phone)->signUp($app['id'], $begun['number'], $wants, $now);
    }

    /** @throws HandRefused */
    public static function do(PhoneFolder $phone, string $hand, string $id, ?string $typed, int $now): void
    {
        $app = self::app($phone, $id);
        $number = $app['sign_up']['number'] ?? '';
        $registry = Registry::of($phone);
        switch ($hand) {
            case 'register':
                if (1 !== preg_match('/^\+[1-9]\d{6,14}$/D', (string) $typed)) {
                    throw HandRefused::noNumber();
                }
                self::change($phone, $id, ['sign_up' => ['number' => (string) $typed, 'wants' => SignUp::WANTS_WAY]]);
                break;
            case 'ask_text':
            case 'ask_call':
                $registry->ask($id, $number, 'ask_text' === $hand ? Registry::TEXT : Registry::CALL, $now);
                self::change($phone, $id, ['sign_up' => ['number' => $number, 'wants' => SignUp::WANTS_CODE]]);
                break;
            case 'enter_code':
                $registry->enter($id, $number, (string) $typed, $now);
                null === self::pin($phone, $id, $number)
                    ? self::complete($phone, $id, $number)
                    : self::change($phone, $id, ['sign_up' => ['number' => $number, 'wants' => SignUp::WANTS_PIN]]);
                break;
            case 'enter_pin':
                $pin = self::pin($phone, $id, $number);
                if (null !== $pin && !hash_equals($pin, trim((string) $typed))) {
                    throw HandRefused::wrongPin();
                }
                self::complete($phone, $id, $number);
                break;
            case 'go_on':
                if (SignUp::WANTS_NOTHING !== self::of($phone, $app, $now)?->wants) {
                    throw HandRefused::notOffered();
                }
                self::complete($phone, $id, $number);
                break;
            case 'leave_sign_up':
                self::change($phone, $id, ['sign_up' => null]);
                break;
            case 'pin_off':
                self::change($phone, $id, ['pin' => null]);
                break;
            case 'decline_cloud':
                self::change($phone, $id, ['offers_cloud' => false]);
                break;
            case 'take_cloud':
                self::change($phone, $id, ['offers_cloud' => false]);
                EmptyMessenger::fetch($phone, $id, self::FETCHED);
                break;
            default:
                throw HandRefused::notOffered();
        }
    }

    /**
     * What comes to a phone's screen: the codes for the number whose SIM is in it, and those that it waits for and that
     * come to a SIM elsewhere.
     *
     * @return list<array{app: string, code: string, here: bool}>
     */
    public static function codes(PhoneFolder $phone, int $now): array
    {
        $codes = [];
        foreach (self::beside($phone) as $other) {
            foreach ($other->state()['apps'] as $app) {
                $number = $app['sign_up']['number'] ?? null;
                $code = null === $number ? null : Registry::of($phone)->state($app['id'], $number, $now)['code'];
                if (null === $number || null === $code) {
                    continue;
                }
                $holder = self::simOf($phone, $number);
                if ($holder === $phone->path || (null === $holder && $other->path === $phone->path)) {
                    $codes[] = ['app' => $app['name'], 'code' => $code, 'here' => null !== $holder];
                }
            }
        }

        return $codes;
    }

    /** @return string|null path of the phone that the SIM of a number is in; null for one that lies nowhere here */
    private static function simOf(PhoneFolder $phone, string $number): ?string
    {
        foreach (self::beside($phone) as $other) {
            if (($other->state()['sim'] ?? null) === $number) {
                return $other->path;
            }
        }

        return null;
    }

    /** @return list<string> numbers of an owner's phones whose card is in none of them */
    public static function looseSims(PhoneFolder $phone): array
    {
        $numbers = $inPhones = [];
        $owner = $phone->state()['owner'];
        foreach (self::beside($phone) as $other) {
            $state = $other->state();
            $inPhones[] = $state['sim'] ?? '';
            foreach ($state['owner'] === $owner ? $state['apps'] : [] as $app) {
                $numbers[] = $app['number'] ?? $app['sign_up']['number'] ?? '';
            }
        }

        return array_values(array_unique(array_diff($numbers, $inPhones, [''])));
    }

    private static function complete(PhoneFolder $phone, string $id, string $number): void
    {
        foreach (self::beside($phone) as $other) {
            foreach ($other->path === $phone->path ? [] : $other->state()['apps'] as $app) {
                if ($app['id'] === $id && $app['number'] === $number) {
                    self::change($other, $id, ['number' => null, 'signed_out' => true]);
                }
            }
        }
        self::change($phone, $id, [
            'number' => $number, 'sign_up' => null, 'signed_out' => false, 'offers_cloud' => true,
        ]);
        EmptyMessenger::register($phone, $id, $number);
    }

    /** The account's two-step PIN, which any phone that has or had the number knows. */
    private static function pin(PhoneFolder $phone, string $id, string $number): ?string
    {
        foreach (self::beside($phone) as $other) {
            foreach ($other->state()['apps'] as $app) {
                if ($app['id'] === $id && $app['number'] === $number && isset($app['pin'])) {
                    return $app['pin'];
                }
            }
        }

        return null;
    }

    /** @return list<PhoneFolder> all at the bench, this one too */
    private static function beside(PhoneFolder $phone): array
    {
        $bench = new Bench(dirname($phone->path));

        return array_map($bench->phone(...), array_values(array_filter(
            $bench->serials(), static fn (string $serial): bool => 1 === preg_match('/^[A-Z0-9]{4,20}$/', $serial),
        )));
    }

    /** @return App */
    private static function app(PhoneFolder $phone, string $id): array
    {
        foreach ($phone->state()['apps'] as $app) {
            if ($app['id'] === $id) {
                return $app;
            }
        }
        throw HandRefused::notOffered();
    }

    /**
     * @param array{
     *     number?: string|null, sign_up?: array{number: string, wants: string}|null, signed_out?: bool,
     *     offers_cloud?: bool, pin?: string|null,
     * } $change
     */
    private static function change(PhoneFolder $phone, string $id, array $change): void
    {
        $phone->change(static function (array $s) use ($id, $change): array {
            $s['apps'] = array_map(
                static fn (array $app): array => ($app['id'] === $id ? $change : []) + $app, $s['apps'],
            );

            return $s;
        });
    }
}
