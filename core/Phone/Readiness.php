<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** Whether a phone is fit for the work, line by line, and what to do on it where it is not. */
final class Readiness
{
    public const BATTERY_LEAST = 30;
    /** Share of free space that must remain after writing. */
    public const SPACE_MARGIN = 0.1;

    /**
     * @param string      $app    id of the messenger
     * @param string|null $number E.164 number that the other phone has; null while nobody knows
     * @param int|null    $bytes  what will be written to the phone; null while nobody knows
     *
     * @return list<Check>
     */
    public static function of(PhoneState $phone, Role $role, string $app, ?string $number, ?int $bytes): array
    {
        $checks = [
            self::point('cable', $phone->plugged, 'Connected by cable', 'Connect it to this computer with a data cable.'),
            self::point('unlocked', $phone->plugged ? $phone->unlocked : null, 'Screen unlocked', 'Unlock the screen; it asks for the screen code.'),
            ...('android' === $phone->platform ? self::android($phone) : self::ios($phone)),
            self::point('battery', null === $phone->battery ? null : $phone->battery >= self::BATTERY_LEAST, null === $phone->battery ? 'Battery' : sprintf('Battery at %d %%', $phone->battery), sprintf('Charge it to at least %d %%.', self::BATTERY_LEAST)),
        ];
        if (Role::Receives === $role) {
            $checks[] = self::space($phone, $bytes);
        }
        array_push($checks, ...self::messenger($phone, $role, $app, $number));

        return $checks;
    }

    /** @param list<Check> $checks */
    public static function allReady(array $checks): bool
    {
        return [] === array_filter($checks, static fn (Check $check): bool => Check::READY !== $check->status);
    }

    /** @return list<Check> */
    private static function android(PhoneState $phone): array
    {
        return [
            self::point('usb_debugging', $phone->plugged ? true === $phone->debugging : null, 'USB debugging on', 'Settings, About the phone: tap the build number seven times. Then Developer options: switch on USB debugging.'),
            self::point('computer_allowed', $phone->plugged && true === $phone->debugging ? $phone->admitted : null, 'This computer allowed', 'Answer “Allow” to the question on its screen; it appears when the screen is unlocked.'),
        ];
    }

    /** @return list<Check> */
    private static function ios(PhoneState $phone): array
    {
        return [self::point('computer_trusted', $phone->plugged ? $phone->admitted : null, 'This computer trusted', 'Answer “Trust” to the question on its screen; it asks for the passcode.')];
    }

    private static function space(PhoneState $phone, ?int $bytes): Check
    {
        if (null === $phone->free) {
            return self::point('space', null, 'Enough free space', '');
        }
        $free = self::megabytes($phone->free);
        if (null === $bytes) {
            return self::point('space', $phone->free > 0, sprintf('%s free', $free), 'Free some space on it.');
        }
        $needed = self::spaceNeeded($bytes);

        return self::point('space', $phone->free >= $needed, sprintf('%s free, %s needed', $free, self::megabytes($needed)), sprintf('Free %s more on it.', self::megabytes(max(0, $needed - $phone->free))));
    }

    /** Bytes that must be free before so many are written. */
    public static function spaceNeeded(int $bytes): int
    {
        return (int) ceil($bytes * (1 + self::SPACE_MARGIN));
    }

    /** @return list<Check> */
    private static function messenger(PhoneState $phone, Role $role, string $app, ?string $number): array
    {
        if (null === $phone->apps) {
            return [self::point('messenger', null, 'Messenger installed', ''), self::point('number', null, 'Registered with the same number', '')];
        }
        $state = $phone->app($app);
        if (null === $state) {
            return [self::point('messenger', false, 'Messenger installed', 'Install the messenger on it.'), self::point('number', null, 'Registered with the same number', '')];
        }
        $checks = [self::point('messenger', true, sprintf('%s %s installed', $state->name, $state->version), '')];
        if (null === $state->number) {
            $checks[] = self::point('number', false, 'Registered with the same number', null === $number ? 'Open the messenger on it and register the number.' : sprintf('Open the messenger on it and register %s.', $number));
        } elseif (null === $number) {
            $checks[] = self::point('number', Role::Gives === $role ? true : null, sprintf('Registered as %s', $state->number), '');
        } else {
            $checks[] = self::point('number', $state->number === $number, sprintf('Registered as %s', $state->number), sprintf('The other phone has %s. Register this one with the same number.', $number));
        }

        return $checks;
    }

    private static function point(string $id, ?bool $ready, string $what, string $how): Check
    {
        return match ($ready) {
            true => new Check($id, Check::READY, $what, null),
            false => new Check($id, Check::TO_DO, $what, $how),
            null => new Check($id, Check::UNSEEN, $what, 'Shows once the points above are done.'),
        };
    }

    private static function megabytes(int $bytes): string
    {
        return $bytes >= 1_000_000_000 ? number_format($bytes / 1e9, 1).' GB' : number_format($bytes / 1e6, 1).' MB';
    }
}
