<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Phone;

use Geschenk\Core\Failure;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Platform;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FitnessTest extends TestCase
{
    /** @return iterable<string, array{array<string, mixed>, string|null, float|null}> */
    public static function phones(): iterable
    {
        yield 'fit' => [[], null, null];
        yield 'out' => [['plugged' => false], 'unplugged', null];
        yield 'out, which is all that can be known' => [['plugged' => false, 'unlocked' => false], 'unplugged', null];
        yield 'debugging off' => [['debugging' => false], 'debugging_off', null];
        yield 'no debugging to be had' => [['debugging' => null], null, null];
        yield 'not let in' => [['admitted' => false], 'not_allowed', null];
        yield 'locked' => [['unlocked' => false], 'locked', null];
        yield 'locked, up for longer than we were away' => [['unlocked' => false, 'upFor' => 100], 'locked', 60.0];
        yield 'started anew since' => [['unlocked' => false, 'upFor' => 20], 'restarted', 60.0];
        yield 'started anew, and unlocked' => [['upFor' => 20], null, 60.0];
        yield 'a battery that will do' => [['battery' => 10], null, null];
        yield 'one that will not' => [['battery' => 9], 'battery_low', null];
        yield 'one that is not told' => [['battery' => null], null, null];
    }

    /** @param array<string, mixed> $state */
    #[DataProvider('phones')]
    public function testWhatIsInTheWayIsToldApart(array $state, ?string $reason, ?float $since): void
    {
        $named = $state + [
            'plugged' => true, 'unlocked' => true, 'battery' => 80, 'debugging' => true, 'admitted' => true,
            'upFor' => null,
        ];
        self::assertTrue(is_bool($named['plugged']) && is_bool($named['unlocked']) && is_bool($named['admitted']));
        self::assertTrue(null === $named['battery'] || is_int($named['battery']));
        self::assertTrue(null === $named['upFor'] || is_int($named['upFor']));
        self::assertTrue(null === $named['debugging'] || is_bool($named['debugging']));
        $phone = new PhoneState(
            'S1', 'Maker', 'Model', Platform::Android, '14', $named['plugged'], $named['unlocked'], $named['battery'],
            $named['debugging'], $named['admitted'], 1, [], upFor: $named['upFor'],
        );
        try {
            Fitness::ensure($phone, Fitness::GOES_ON_AT, $since);
            self::assertNull($reason);
        } catch (Failure $failure) {
            self::assertSame($reason, $failure->reason);
        }
    }
}
