<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Phone;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** What is switched for a job is seen, with what it was before, and ticks itself off. */
final class SwitchedTest extends ApiTestCase
{
    public function testWhatIsSwitchedIsListedUntilItIsBack(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->giving->change(static fn (array $s): array => ['lock_after' => 30] + $s);
        $n = $this->openTray(laid: true);
        $this->watch();
        self::assertSame([], $this->switched($n));
        $this->hands(Phones::GIVING, 'lock_timer_never');
        $this->hands(Phones::RECEIVING, 'theft_lock_on');
        $this->watch();
        self::assertSame([
            ["$n-A", false, 'Let the screen lock itself after 30 seconds again'],
            ["$n-B", false, 'Switch the theft lock off again'],
        ], $this->switched($n));
        // Not seen is not switched.
        Phones::plug($this->giving, false);
        $this->watch();
        self::assertCount(2, $this->switched($n));
        Phones::plug($this->giving);
        $this->hands(Phones::GIVING, 'lock_timer_short');
        $this->hands(Phones::GIVING, 'auto_backup_on otterpost');
        $this->watch();
        self::assertSame([
            ["$n-A", true, 'The screen locks itself after 30 seconds again'],
            ["$n-A", false, 'Switch the automatic backup of Otterpost off again'],
            ["$n-B", false, 'Switch the theft lock off again'],
        ], $this->switched($n));
    }

    public function testDebuggingThatWasOffWhenThePhoneCameIsSwitchedOffAgain(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->giving->change(static fn (array $s): array => ['debugging' => false, 'admitted' => false] + $s);
        $n = $this->openTray(laid: true);
        $this->watch();
        $this->hands(Phones::GIVING, 'debugging_on');
        $this->hands(Phones::GIVING, 'admit');
        $this->watch();
        self::assertSame([["$n-A", false, 'Switch USB debugging off again']], $this->switched($n));
        $this->hands(Phones::GIVING, 'debugging_off');
        $this->watch();
        self::assertSame([["$n-A", true, 'USB debugging is off again']], $this->switched($n));
    }

    public function testWhatWasSwitchedBeforeTheTrayWasOpenedCountsToo(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->giving->change(static fn (array $s): array => ['debugging' => false, 'admitted' => false] + $s);
        $this->watch();
        $this->hands(Phones::GIVING, 'debugging_on');
        $this->hands(Phones::GIVING, 'admit');
        $n = $this->openTray(laid: true);
        $this->watch();
        self::assertSame([["$n-A", false, 'Switch USB debugging off again']], $this->switched($n));
    }

    /** @return iterable<array{int, list<array{string, bool, string}>}> s that it was away; what is to be switched */
    public static function absences(): iterable
    {
        $back = ['A', false, 'Let the screen lock itself after 30 seconds again'];
        yield 'a cable that was touched' => [60, [$back]];
        yield 'its owner has set that at home' => [7_200, []];
    }

    /** @param list<array{string, bool, string}> $switched */
    #[DataProvider('absences')]
    public function testAPhoneThatWasAwayForLongComesAnew(int $seconds, array $switched): void
    {
        $this->signIn();
        $this->layPhones();
        $this->giving->change(static fn (array $s): array => ['lock_after' => 30] + $s);
        $this->watch();
        $away = $this->giving->path.'.away';
        self::assertTrue(rename($this->giving->path, $away));
        $this->watch();
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();
        $entities->createQuery('UPDATE '.Phone::class.' p SET p.seenAt = :at')
            ->setParameter('at', new \DateTimeImmutable("-$seconds seconds"), 'datetime_immutable')->execute();
        self::assertTrue(rename($away, $this->giving->path));
        $this->giving->change(static fn (array $s): array => ['lock_after' => 0] + $s);
        $n = $this->openTray(laid: true);
        $this->watch();
        self::assertSame($switched, array_map(
            static fn (array $one): array => [substr($one[0], -1), $one[1], $one[2]], $this->switched($n),
        ));
    }

    public function testAfterTheHandOverTheListStaysAsItWasAndIsOnTheSheet(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->watch();
        $this->hands(Phones::RECEIVING, 'lock_timer_never');
        foreach ([['kind' => 'backup'], ['kind' => 'conversion']] as $asked) {
            $this->askAndWork($n, $asked);
        }
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->watch();
        $this->handOver($n);
        $before = $this->switched($n);
        self::assertSame([["$n-B", false, 'Let the screen lock itself after 600 seconds again']], $before);
        $this->receiving->change(static fn (array $s): array => ['lock_after' => 600] + $s);
        $this->watch();
        self::assertSame($before, $this->switched($n), 'Whose phone it is now is nobody’s business here.');
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('after 600 seconds again', $sheet);
    }

    public function testWhatBlocksHoldsTheBackupBackAndWhatWarnsDoesNot(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->watch();
        $this->hands(Phones::GIVING, 'auto_backup_on otterpost');
        $this->hands(Phones::GIVING, 'lock');
        $refused = $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 422);
        self::assertStringContainsString("$n-A is not ready", $this->text($refused, 'detail'));
        $this->hands(Phones::GIVING, 'unlock');
        // The other phone may be set up meanwhile.
        $this->hands(Phones::RECEIVING, 'theft_lock_on');
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->hands(Phones::RECEIVING, 'theft_lock_off');
        $this->askAndWork($n, ['kind' => 'conversion']);

        // Ready when it was backed up is not ready now.
        $this->hands(Phones::RECEIVING, 'theft_lock_on');
        $this->look();
        $waits = $this->call('GET', "/api/trays/$n")['waits'];
        self::assertIsArray($waits);
        self::assertSame(['person', 'customer', "$n-B"], [$waits['for'], $waits['who'], $waits['tag']]);
        $lacking = $this->value($this->call('GET', "/api/trays/$n"), 'moves', 0, 'lacking');
        self::assertIsArray($lacking);
        self::assertSame(['theft_lock', 'owner'], [$lacking['id'], $lacking['who']]);
        self::assertNotEmpty($lacking['guide']);
        $restore = ['kind' => 'restore', 'confirmed_tag' => "$n-B"];
        $this->call('POST', "/api/trays/$n/moves/1/runs", $restore, 422);
        $this->hands(Phones::RECEIVING, 'theft_lock_off');
        // The giving phone may be put away by now.
        Phones::plug($this->giving, false);
        $this->call('POST', "/api/trays/$n/moves/1/runs", $restore, 202);
    }

    private function hands(string $serial, string $act): void
    {
        $this->call('POST', "/api/standin/phones/$serial/acts", ['act' => $act]);
    }

    /** @return list<array{string, mixed, mixed}> tag, whether it is back, words */
    private function switched(int $n): array
    {
        $switched = $this->call('GET', "/api/trays/$n")['switched'];
        self::assertIsArray($switched);

        return array_values(array_map(function (mixed $one): array {
            self::assertIsArray($one);

            self::assertIsString($one['tag']);

            return [$one['tag'], $one['back'], $one['text']];
        }, $switched));
    }
}
