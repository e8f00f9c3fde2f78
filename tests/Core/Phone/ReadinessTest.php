<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Phone;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\AppState;
use Geschenk\Core\Phone\Demand;
use Geschenk\Core\Phone\PhoneSettings;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Switchable;
use Geschenk\Core\Platform;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Each rule both ways, for the phones and roles that it is asked of. */
final class ReadinessTest extends TestCase
{
    private const OWN = '+447700900001';
    private const OTHER = '+447700900002';

    /** @return iterable<string, array{string, Role, list<string>}> platform, role, ids of the points */
    public static function parts(): iterable
    {
        $all = ['cable', 'system', 'unlocked', 'computer_allowed', 'not_managed', 'lock_timer', 'battery'];
        $account = ['messenger', 'number', 'auto_backup'];
        $android = [...$all, 'usb_debugging', ...$account, 'storage_allowed'];
        yield 'an Android phone that gives' => ['android', Role::Gives, $android];
        yield 'an Android phone that receives' => ['android', Role::Receives, [...$android, 'space']];
        yield 'an iOS phone that gives' => ['ios', Role::Gives, [...$all, ...$account]];
        yield 'an iOS phone that receives' => ['ios', Role::Receives, [...$all, ...$account, 'space', 'theft_lock']];
    }

    /** @param list<string> $ids */
    #[DataProvider('parts')]
    public function testWhatIsAskedOfAPhoneInItsPart(string $platform, Role $role, array $ids): void
    {
        $points = self::points(['platform' => $platform], $role);
        self::assertEqualsCanonicalizing($ids, array_column($points, 'id'));
        self::assertTrue(Readiness::allReady($points), json_encode($points) ?: '');
        self::assertSame([Point::READY], array_values(array_unique(array_column($points, 'status'))));
    }

    /** @return iterable<string, array{string, array<string, mixed>, string, string, string}> */
    public static function faults(): iterable
    {
        $closed = ['admitted' => false, 'free' => null, 'apps' => null];
        yield 'no cable' => ['cable', ['plugged' => false], 'to_do', 'blocks', 'technician'];
        yield 'locked' => ['unlocked', ['unlocked' => false], 'to_do', 'blocks', 'owner'];
        yield 'locked, no cable' => ['unlocked', ['plugged' => false], 'unseen', 'blocks', 'owner'];
        yield 'old Android' => ['system', ['platform' => 'android', 'os' => '9.1'], 'to_do', 'blocks', 'owner'];
        yield 'old iOS' => ['system', ['os' => '14.8'], 'to_do', 'blocks', 'owner'];
        yield 'a system without a number' => ['system', ['os' => 'spring'], 'unseen', 'warns', 'owner'];
        yield 'debugging off' => [
            'usb_debugging', ['platform' => 'android', 'debugging' => false] + $closed, 'to_do', 'blocks', 'owner',
        ];
        yield 'asked after debugging' => [
            'computer_allowed', ['platform' => 'android', 'debugging' => false] + $closed, 'unseen', 'blocks', 'owner',
        ];
        yield 'not allowed, Android' => [
            'computer_allowed', ['platform' => 'android'] + $closed, 'to_do', 'blocks', 'owner',
        ];
        yield 'not allowed, iOS' => ['computer_allowed', $closed, 'to_do', 'blocks', 'owner'];
        yield 'managed' => ['not_managed', ['managed' => true], 'to_do', 'blocks', 'owner'];
        yield 'nobody knows whether managed' => ['not_managed', ['managed' => null], 'unseen', 'warns', 'owner'];
        yield 'theft lock' => ['theft_lock', ['theft' => true], 'to_do', 'blocks', 'owner'];
        yield 'nobody knows the theft lock' => ['theft_lock', ['theft' => null], 'unseen', 'blocks', 'owner'];
        yield 'locks itself soon' => ['lock_timer', ['lock' => 30], 'to_do', 'warns', 'technician'];
        yield 'nobody knows the timer' => ['lock_timer', ['lock' => null], 'unseen', 'warns', 'technician'];
        yield 'battery' => ['battery', ['battery' => 20], 'to_do', 'blocks', 'technician'];
        yield 'battery unseen' => ['battery', ['battery' => null], 'unseen', 'blocks', 'technician'];
        yield 'space' => ['space', ['free' => 1_099], 'to_do', 'blocks', 'technician'];
        yield 'space unseen' => ['space', ['free' => null], 'unseen', 'blocks', 'technician'];
        yield 'no messenger' => ['messenger', ['apps' => []], 'to_do', 'blocks', 'owner'];
        yield 'no messenger seen' => ['messenger', ['apps' => null], 'unseen', 'blocks', 'owner'];
        yield 'not registered' => ['number', ['number' => null], 'to_do', 'warns', 'owner'];
        yield 'offers a backup from the net' => ['cloud_declined', ['cloud' => true], 'to_do', 'blocks', 'technician'];
        yield 'another number' => ['number', ['number' => self::OTHER], 'to_do', 'blocks', 'owner'];
        yield 'no number seen' => ['number', ['apps' => null], 'unseen', 'blocks', 'owner'];
        yield 'backs itself up' => ['auto_backup', ['backup' => true], 'to_do', 'warns', 'technician'];
        yield 'no storage' => [
            'storage_allowed', ['platform' => 'android', 'storage' => false], 'to_do', 'blocks', 'technician',
        ];
    }

    /** @param array<string, mixed> $fault */
    #[DataProvider('faults')]
    public function testWhatIsNotSoIsSaid(string $id, array $fault, string $status, string $severity, string $who): void
    {
        $points = array_column(self::points($fault, Role::Receives), null, 'id');
        $point = $points[$id] ?? self::fail("Nobody asks for $id.");
        self::assertSame([$status, $severity, $who], [$point->status, $point->severity, $point->who]);
        self::assertSame('blocks' === $severity, $point->isHindrance());
        $others = array_filter($points, static fn (Point $p): bool => 'warns' === $severity && $p->isHindrance());
        self::assertSame([], $others, 'A warning stops nothing.');
    }

    public function testTheGivingPhoneNeedsNoStorageForItsMessengerToBeRead(): void
    {
        $fault = ['platform' => 'android', 'storage' => false];
        $point = array_column(self::points($fault, Role::Gives), null, 'id')['storage_allowed'] ?? self::fail();
        self::assertSame(['to_do', 'warns'], [$point->status, $point->severity]);
    }

    public function testANumberIsNeededBeforeTheRestoreAndNotBeforeTheBackup(): void
    {
        $phone = self::phone(['number' => null]);
        $asked = static fn (bool $isForRestore, ?string $number = self::OWN): AccountAsked => new AccountAsked(
            'otterpost', 'Otterpost', $number, $isForRestore,
        );
        $point = static function (AccountAsked $asked, Role $role) use (&$phone): ?Point {
            return array_column(Readiness::ofAccount($phone, $role, $asked), null, 'id')['number'] ?? null;
        };
        self::assertSame('number_later', $point($asked(false), Role::Receives)?->variant);
        self::assertFalse($point($asked(false), Role::Receives)?->isHindrance());
        self::assertTrue($point($asked(true), Role::Receives)?->isHindrance());
        self::assertTrue($point($asked(false, null), Role::Receives)?->isHindrance(), 'Nobody knows which.');
        self::assertTrue($point($asked(false, null), Role::Gives)?->isHindrance());
        // Who registers it there signs it out here; the chats stay.
        $phone = self::phone(['number' => null, 'signed_out' => true]);
        self::assertTrue($point($asked(false, null), Role::Gives)?->isReady());
        self::assertTrue($point($asked(true), Role::Receives)?->isHindrance());
    }

    public function testAPhoneThatIsNotThereHasOnePoint(): void
    {
        self::assertSame(['bench'], array_column(Readiness::ofPhone(null, Role::Gives, null), 'id'));
        $asked = new AccountAsked('otterpost', 'Otterpost', null);
        self::assertSame([], Readiness::ofAccount(null, Role::Gives, $asked));
    }

    public function testBatteryAndSpaceAreComputedFromTheJob(): void
    {
        $small = new Demand(1_000, 0, Role::Receives);
        self::assertSame([1_100, 1, 21], [$small->space(), $small->seconds(), $small->battery()]);
        // The chats twice: as they are staged, and as the messenger copies them.
        self::assertSame(3_301, (new Demand(1_000, 1_000, Role::Receives))->space());
        $gives = new Demand(60_000_000_000, 0, Role::Gives);
        $receives = new Demand(60_000_000_000, 0, Role::Receives);
        self::assertSame([6_000, 12_000], [$gives->seconds(), $receives->seconds()], 'read; written and read back');
        self::assertSame([70, 80], [$gives->battery(), $receives->battery()]);
        $least = -1;
        foreach ([0, 1, 10_000, 10_000_000, 10_000_000_000, 1_000_000_000_000] as $bytes) {
            $job = new Demand($bytes, $bytes, Role::Receives);
            self::assertGreaterThanOrEqual($least, $job->battery());
            self::assertGreaterThanOrEqual(3 * $bytes, $job->space());
            $least = $job->battery();
        }
        $points = array_column(Readiness::ofPhone(self::phone(['battery' => 29]), Role::Gives, null), null, 'id');
        self::assertSame(['to_do', 30], [$points['battery']->status, $points['battery']->params['least']]);
        $longer = array_column(Readiness::ofPhone(self::phone(['lock' => 400]), Role::Gives, $gives), null, 'id');
        self::assertSame('to_do', $longer['lock_timer']->status);
    }

    public function testWhatCanBeSwitchedBackIsSeenAsFarAsThePhoneShowsIt(): void
    {
        self::assertSame([
            ['code' => 'usb_debugging', 'app' => '', 'value' => 1],
            ['code' => 'lock_timer', 'app' => '', 'value' => 600],
            ['code' => 'auto_backup', 'app' => 'otterpost', 'value' => 0],
        ], Switchable::of(self::phone(['platform' => 'android', 'theft' => null])));
        self::assertSame(
            [['code' => 'theft_lock', 'app' => '', 'value' => 1]],
            Switchable::of(self::phone(['theft' => true, 'lock' => null, 'apps' => null])),
        );
        $away = ['platform' => 'android', 'plugged' => false, 'theft' => null, 'lock' => null, 'apps' => null];
        self::assertSame([], Switchable::of(self::phone($away)));
    }

    /**
     * @param array<string, mixed> $state
     *
     * @return list<Point>
     */
    private static function points(array $state, Role $role): array
    {
        $phone = self::phone($state);

        return [
            ...Readiness::ofPhone($phone, $role, new Demand(1_000, 0, $role)),
            ...Readiness::ofAccount($phone, $role, new AccountAsked('otterpost', 'Otterpost', self::OWN)),
        ];
    }

    /** @param array<string, mixed> $state what is not as it should be */
    private static function phone(array $state): PhoneState
    {
        $s = $state + [
            'platform' => 'ios', 'os' => '17.1', 'plugged' => true, 'unlocked' => true, 'battery' => 80,
            'admitted' => true, 'debugging' => true, 'free' => 9_000, 'lock' => 600, 'managed' => false,
            'theft' => false, 'number' => self::OWN, 'backup' => false, 'storage' => true,
        ];
        $platform = Platform::from(self::text($s['platform']));
        $isAndroid = Platform::Android === $platform;
        $apps = array_key_exists('apps', $state) ? $state['apps'] : [new AppState(
            'otterpost', 'Otterpost', '7', null === $s['number'] ? null : self::text($s['number']),
            true === $s['backup'], $isAndroid ? true === $s['storage'] : null,
            signedOut: true === ($s['signed_out'] ?? null), offersCloud: true === ($s['cloud'] ?? null),
        )];
        self::assertTrue(null === $apps || (is_array($apps) && array_is_list($apps)));
        /** @var list<AppState>|null $apps */

        return new PhoneState(
            'S', 'M', 'M', $platform, self::text($s['os']), true === $s['plugged'], true === $s['unlocked'],
            self::whole($s['battery']), $isAndroid ? true === $s['debugging'] : null, true === $s['admitted'],
            self::whole($s['free']), $apps, new PhoneSettings(
                self::whole($s['lock']), self::flag($s['managed']), $isAndroid ? null : self::flag($s['theft']),
            ),
        );
    }

    private static function text(mixed $value): string
    {
        return is_string($value) ? $value : self::fail('No text.');
    }

    private static function whole(mixed $value): ?int
    {
        return is_int($value) ? $value : null;
    }

    private static function flag(mixed $value): ?bool
    {
        return is_bool($value) ? $value : null;
    }
}
