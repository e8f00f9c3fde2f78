<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Phone;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\AfterRestore;
use Geschenk\Core\Phone\AppState;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Platform;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class AfterRestoreTest extends TestCase
{
    /** @return iterable<string, array{Platform, int|null, AppState|null, array<string, string>}> */
    public static function phones(): iterable
    {
        $app = static fn (?bool $is): AppState => new AppState(
            'otterpost', 'Otterpost', '7', '+447700900123', false, $is, $is, $is, $is,
        );
        yield 'nothing has happened' => [Platform::Ios, 5_000, $app(false), [
            'number_settled' => 'ready', 'started_anew' => 'to_do', 'messenger_opened' => 'to_do',
            'contacts_allowed' => 'to_do',
            'photos_allowed' => 'to_do',
        ]];
        yield 'all has, iOS' => [Platform::Ios, 90, $app(true), [
            'number_settled' => 'ready', 'started_anew' => 'ready', 'messenger_opened' => 'ready',
            'contacts_allowed' => 'ready',
            'photos_allowed' => 'ready',
        ]];
        yield 'all has, Android, which has one for its storage' => [Platform::Android, 90, $app(true), [
            'number_settled' => 'ready', 'started_anew' => 'ready', 'messenger_opened' => 'ready',
            'contacts_allowed' => 'ready',
            'storage_allowed' => 'ready',
        ]];
        yield 'started just before that was noted' => [Platform::Ios, 130, $app(true), [
            'number_settled' => 'ready', 'started_anew' => 'ready', 'messenger_opened' => 'ready',
            'contacts_allowed' => 'ready',
            'photos_allowed' => 'ready',
        ]];
        yield 'nobody sees anything' => [Platform::Ios, null, null, [
            'number_settled' => 'unseen', 'started_anew' => 'unseen', 'messenger_opened' => 'unseen',
            'contacts_allowed' => 'unseen',
            'photos_allowed' => 'unseen',
        ]];
    }

    /** @param array<string, string> $points */
    #[DataProvider('phones')]
    public function testEachIsSeenOnThePhone(Platform $platform, ?int $upFor, ?AppState $app, array $points): void
    {
        $phone = new PhoneState(
            'S1', 'Maker', 'Model', $platform, '18', true, true, 80, null, true, 1, null === $app ? null : [$app],
            upFor: $upFor,
        );
        $found = AfterRestore::points($phone, new AccountAsked('otterpost', 'Otterpost', null), 100);
        self::assertSame($points, array_column($found, 'status', 'id'));
        self::assertSame([false], array_values(array_unique(array_map(
            static fn ($point): bool => $point->isHindrance(), $found,
        ))), 'None holds anything up.');
    }

    public function testOfAPhoneThatIsAwayNothingIsSaid(): void
    {
        self::assertSame([], AfterRestore::points(null, new AccountAsked('otterpost', 'Otterpost', null), 1));
    }
}
