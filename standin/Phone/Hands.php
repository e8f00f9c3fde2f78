<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Platform;

/**
 * What the customer's hands can do with a stand-in phone. Each act is possible only where a real phone would offer it.
 *
 * @phpstan-import-type State from PhoneFolder
 *
 * @phpstan-type Offer array{act: string, words: string, app: string|null}
 */
final class Hands
{
    /** The apps that can be installed, by id. */
    public const APPS = [
        'otterpost' => ['id' => 'otterpost', 'name' => 'Otterpost', 'version' => '7.4.1'],
        'otterpost.counter' => ['id' => 'otterpost.counter', 'name' => 'Otterpost Counter', 'version' => '7.4.0'],
    ];
    public const APP = self::APPS['otterpost'];

    /** @return list<Offer> what can be done now; "words" is what the button says, under "hands" in translations/ */
    public static function offered(PhoneFolder $phone): array
    {
        $s = $phone->state();
        $isAndroid = Platform::Android->value === $s['platform'];
        $acts = [$s['plugged'] ? 'unplug' : 'plug', $s['unlocked'] ? 'lock' : 'unlock'];
        if ($s['unlocked'] && $isAndroid) {
            $acts[] = match (true) {
                !$s['developer_options'] => 'tap_build_number',
                $s['debugging'] => 'debugging_off',
                default => 'debugging_on',
            };
        }
        if ($s['battery'] < 80) {
            $acts[] = 'charge';
        }
        $offered = array_map(static fn (string $act): array => ['act' => $act, 'words' => $act, 'app' => null], $acts);
        if (null !== self::question($s)) {
            $offered[] = ['act' => 'admit', 'words' => $isAndroid ? 'allow' : 'trust', 'app' => null];
        }
        $installed = array_column($s['apps'], 'name', 'id');
        foreach ($s['unlocked'] ? self::APPS : [] as $id => $app) {
            $act = isset($installed[$id]) ? 'register' : 'install';
            $offered[] = ['act' => $act.' '.$id, 'words' => $act, 'app' => $app['name']];
        }

        return $offered;
    }

    /**
     * The question on the screen, which shows only when the screen is unlocked.
     *
     * @param State $s
     *
     * @return string|null under "hands" in translations/
     */
    public static function question(array $s): ?string
    {
        $isAndroid = Platform::Android->value === $s['platform'];
        if (!$s['plugged'] || $s['admitted'] || !$s['unlocked'] || ($isAndroid && !$s['debugging'])) {
            return null;
        }

        return $isAndroid ? 'question_allow' : 'question_trust';
    }

    /**
     * @param string      $act    as it was offered
     * @param string|null $number for "register": the E.164 number
     *
     * @throws HandRefused when the phone does not offer this now
     */
    public static function do(PhoneFolder $phone, string $act, ?string $number = null): void
    {
        if (!in_array($act, array_column(self::offered($phone), 'act'), true)) {
            throw HandRefused::notOffered();
        }
        [$hand, $id] = explode(' ', $act) + [1 => ''];
        if ('register' === $hand && 1 !== preg_match('/^\+[1-9]\d{6,14}$/D', (string) $number)) {
            throw HandRefused::noNumber();
        }
        if ('install' === $hand) {
            EmptyMessenger::install($phone, $id);
        }
        $phone->change(static function (array $s) use ($hand, $id, $number): array {
            $change = match ($hand) {
                'plug' => ['plugged' => true],
                'unplug' => ['plugged' => false],
                'lock' => ['unlocked' => false],
                'unlock' => ['unlocked' => true],
                'tap_build_number' => ['developer_options' => true],
                'debugging_on' => ['debugging' => true],
                'debugging_off' => ['debugging' => false],
                'admit' => ['admitted' => true],
                'charge' => ['battery' => 100],
                'install' => ['apps' => [...$s['apps'], [...(self::APPS[$id] ?? self::APP), 'number' => null]]],
                'register' => ['apps' => array_map(
                    static fn (array $app): array => ($app['id'] === $id ? ['number' => $number] : []) + $app,
                    $s['apps'],
                )],
                default => [],
            };

            return $change + $s;
        });
        if ('register' === $hand && null !== $number) {
            EmptyMessenger::register($phone, $id, $number);
        }
    }

    /** @param float $megabytesPerSecond 0 is unlimited */
    public static function setCableSpeed(PhoneFolder $phone, float $megabytesPerSecond): void
    {
        $phone->change(static fn (array $s): array => ['cable_mb_s' => max(0.0, $megabytesPerSecond)] + $s);
    }
}
