<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Standin\Demo\EmptyMessenger;

/**
 * What the customer's hands can do with a stand-in phone. Each act is possible only where a real phone would offer it.
 *
 * @phpstan-import-type State from PhoneFolder
 */
final class Hands
{
    public const APP = ['id' => 'otterpost', 'name' => 'Otterpost', 'version' => '7.4.1'];

    /**
     * @return array<string, string> what can be done now: act => what it says on the button
     */
    public static function offered(PhoneFolder $phone): array
    {
        $s = $phone->state();
        $offered = $s['plugged'] ? ['unplug' => 'Pull the cable'] : ['plug' => 'Plug the cable in'];
        $offered += $s['unlocked'] ? ['lock' => 'Lock the screen'] : ['unlock' => 'Unlock the screen'];
        if ($s['unlocked'] && 'android' === $s['platform']) {
            if (!$s['developer_options']) {
                $offered['tap_build_number'] = 'Tap the build number seven times';
            } else {
                $offered += $s['debugging'] ? ['debugging_off' => 'Switch USB debugging off'] : ['debugging_on' => 'Switch USB debugging on'];
            }
        }
        if (null !== self::question($s)) {
            $offered['admit'] = 'android' === $s['platform'] ? 'Answer “Allow”' : 'Answer “Trust”';
        }
        if ($s['battery'] < 80) {
            $offered['charge'] = 'Charge it';
        }
        if ($s['unlocked'] && [] === $s['apps']) {
            $offered['install'] = 'Install Otterpost';
        }
        if ($s['unlocked'] && [] !== $s['apps']) {
            $offered['register'] = 'Register a number';
        }

        return $offered;
    }

    /**
     * The question on the screen, which shows only when the screen is unlocked.
     *
     * @param State $s
     */
    public static function question(array $s): ?string
    {
        if (!$s['plugged'] || $s['admitted'] || !$s['unlocked'] || ('android' === $s['platform'] && !$s['debugging'])) {
            return null;
        }

        return 'android' === $s['platform'] ? 'Allow this computer to debug over USB?' : 'Trust this computer?';
    }

    /**
     * @param string|null $number for "register": the E.164 number
     *
     * @throws \DomainException when the phone does not offer this now
     */
    public static function do(PhoneFolder $phone, string $act, ?string $number = null): void
    {
        if (!isset(self::offered($phone)[$act])) {
            throw new \DomainException('The phone does not offer that now.');
        }
        if ('register' === $act && 1 !== preg_match('/^\+[1-9]\d{6,14}$/', (string) $number)) {
            throw new \DomainException('That is no number with country code, such as +44 7700 900123.');
        }
        if ('install' === $act) {
            EmptyMessenger::install($phone);
        }
        $phone->change(static function (array $s) use ($act, $number): array {
            $change = match ($act) {
                'plug' => ['plugged' => true],
                'unplug' => ['plugged' => false],
                'lock' => ['unlocked' => false],
                'unlock' => ['unlocked' => true],
                'tap_build_number' => ['developer_options' => true],
                'debugging_on' => ['debugging' => true],
                'debugging_off' => ['debugging' => false],
                'admit' => ['admitted' => true],
                'charge' => ['battery' => 100],
                'install' => ['apps' => [[...self::APP, 'number' => null]]],
                'register' => ['apps' => array_map(static fn (array $a): array => ['number' => $number] + $a, $s['apps'])],
                default => [],
            };

            return $change + $s;
        });
        if ('register' === $act && null !== $number) {
            EmptyMessenger::register($phone, $number);
        }
    }

    /** @param float $megabytesPerSecond 0 is unlimited */
    public static function setCableSpeed(PhoneFolder $phone, float $megabytesPerSecond): void
    {
        $phone->change(static fn (array $s): array => ['cable_mb_s' => max(0.0, $megabytesPerSecond)] + $s);
    }
}
