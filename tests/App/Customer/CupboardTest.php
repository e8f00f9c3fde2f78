<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Customer;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\Cupboard;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Shop;
use Geschenk\App\Work\Erasing;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** All that the shop keeps is found by what somebody knows of it, and says how it stands. */
final class CupboardTest extends ApiTestCase
{
    public function testItIsFoundByAnythingOfItAndCountedWhereverItStands(): void
    {
        $this->signIn();
        self::assertSame([[], [0, 0, 0, 0, 0, 0]], [$this->found('')['backups'], $this->counts('')]);
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $row = $this->value($this->found(''), 'backups', 0);
        self::assertIsArray($row);
        self::assertSame([true, null, false, true, 'kept', 'account'], [
            $row['is_open'], $row['until'], $row['is_due'], $row['is_whole'], $row['state'], $row['origin'],
        ]);
        $today = (new \DateTimeImmutable('now', new \DateTimeZone(Shop::ZONE)))->format('Y-m-d');
        $yesterday = (new \DateTimeImmutable("$today -1 day"))->format('Y-m-d');
        foreach ([
            'test', 'PERSON café', '900700', 'otter', Phones::GIVING, (string) $n, $today, "person $today",
            $this->text($row, 'phone'),
        ] as $words) {
            self::assertSame([1, 0, 0, 1, 0, 0], $this->counts($words), $words);
            self::assertCount(1, (array) $this->found($words)['backups'], $words);
        }
        foreach (['nobody', 'test nobody', $yesterday, '%', "' OR 1 = 1 --", '2026-02-31'] as $words) {
            self::assertSame([], $this->found($words)['backups'], $words);
            self::assertSame([0, 0, 0, 0, 0, 0], $this->counts($words), $words);
        }
        foreach ([
            ['words' => str_repeat('x', 121)], ['page' => 0], ['shown' => 'all'], ['sorted_by' => 'id'],
        ] as $asked) {
            $this->call('POST', '/api/cupboard/find', $asked, 422);
        }
        // What the receiving phone held is beside it, and is nobody's to look into.
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame([1, 0, 0, 2, 1, 0], $this->counts(''));
        $copy = $this->text($this->found('', ['shown' => 'safety_copies']), 'backups', 0, 'of', 'id');
        $this->call('GET', "/api/cupboard/$copy", null, 404);
        $this->call('GET', '/api/cupboard/00000000-0000-0000-0000-000000000000', null, 404);
    }

    public function testWhatBecameOfItIsToldAndItsLastDayCalls(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        $id = $this->text($this->found(''), 'backups', 0, 'of', 'id');
        $whole = $this->call('GET', "/api/cupboard/$id");
        self::assertSame(
            [['taken', $n, null], ['brought', $n, "$n-B"], ['arrived', $n, "$n-B"], ['put_back', $n, "$n-B"]],
            self::history($whole),
        );
        self::assertSame(['at_rest' => false], $whole['look']);
        self::assertStringContainsString("Tray $n still works", $this->text($whole, 'bring', 'why'));
        $day = static fn (string $in): string => (new \DateTimeImmutable($in, new \DateTimeZone(Shop::ZONE)))
            ->format('Y-m-d');
        $this->look();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n, ['keep_until' => $day('+40 days')]);
        self::assertNull($this->value($this->call('GET', "/api/cupboard/$id"), 'bring', 'why'));
        self::assertSame([1, 0], array_slice($this->counts(''), 0, 2));
        $this->call('PUT', "/api/backups/$id/keeping", ['keep_until' => $day('+3 days')]);
        self::assertSame([1, 1], array_slice($this->counts(''), 0, 2));
        $due = $this->value($this->found('', ['shown' => 'due']), 'backups', 0);
        self::assertIsArray($due);
        self::assertTrue($due['is_due']);
        self::assertSame($day('+3 days'), substr($this->text($due, 'until'), 0, 10));

        $backup = $this->entities()->find(Backup::class, $id) ?? self::fail();
        $backup->verified($backup->takenAt->modify('+1 hour'), 'bag_changed');
        $this->entities()->flush();
        self::assertSame([1, 1, 1], array_slice($this->counts(''), 0, 3));
        self::assertContains(['broken', null, null], self::history($this->call('GET', "/api/cupboard/$id")));

        $this->call('POST', "/api/backups/$id/erase", ['number' => "$n"], 202);
        self::assertSame([0, 0, 0, 3, 3, 1], $this->counts(''));
        $gone = $this->call('GET', "/api/cupboard/$id");
        self::assertSame([null, 'erasing'], [$gone['look'], $this->value($gone, 'row', 'state')]);
        self::assertNotNull($this->value($gone, 'bring', 'why'));
    }

    public function testWhatIsWrittenBesideItIsFoundAndGoesWithIt(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->found(''), 'backups', 0, 'of', 'id');
        $note = "/api/backups/$id/note";
        $this->call('PUT', $note, ['text' => str_repeat('x', 501)], 422);
        $this->call('PUT', $note, ['text' => ' Kommt am Freitag: „mit Karte“ ']);
        self::assertSame('Kommt am Freitag: „mit Karte“', $this->noteOf($id));
        self::assertSame([1, 0, 0, 1, 0, 0], $this->counts('freitag'));
        $this->call('PUT', $note, ['text' => '']);
        self::assertSame([0, 0, 0, 0, 0, 0], $this->counts('freitag'));
        $this->call('PUT', $note, ['text' => 'once more']);
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'));
        self::assertStringContainsString('Wrote a note beside', $log);
        self::assertStringNotContainsString('Freitag', $log);
        $this->signIn();
        $this->call('POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => false]);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame('', $this->noteOf($id));
        $this->call('PUT', $note, ['text' => 'of what is gone'], 404);
    }

    public function testACustomersPageHasAllOfThemAndNobodyElse(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $row = $this->value($this->found(''), 'backups', 0);
        self::assertIsArray($row);
        $id = $this->value($row, 'of', 'customer_id');
        self::assertIsInt($id);
        $customer = $this->call('GET', "/api/customers/$id");
        self::assertSame(['Test Person', 'the café'], [$customer['name'], $customer['contact']]);
        self::assertSame([$row], $customer['backups']);
        $tray = $this->value($customer, 'trays', 0);
        self::assertIsArray($tray);
        self::assertSame("Test Person consents; $n-A gives, $n-B receives", $tray['agreed']);
        self::assertSame([["$n-A", 'gives'], ["$n-B", 'receives']], array_map(
            static fn (mixed $phone): array => [((array) $phone)['tag'] ?? '', ((array) $phone)['role'] ?? ''],
            (array) $tray['phones'],
        ));
        self::assertSame([null, null], [$tray['closed_at'], $tray['erased_at']]);
        $this->call('POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => false]);
        self::getContainer()->get(Erasing::class)->do($n);
        $customer = $this->call('GET', "/api/customers/$id");
        self::assertTrue($this->value($customer, 'trays', 0, 'withdrawn'));
        self::assertSame('jette', $this->value($customer, 'trays', 0, 'erased_by'));
        $this->call('GET', '/api/customers/999999', null, 404);
    }

    public function testItIsSortedAndTurnedPageByPage(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $tray = $this->entities()->getRepository(Tray::class)->findOneBy(['number' => $n]) ?? self::fail();
        $at = new \DateTimeImmutable('2026-01-01 12:00:00');
        $count = 2 * Cupboard::PAGE + 7;
        for ($k = 1; $k <= $count; ++$k) {
            $this->entities()->persist(new Backup(
                sprintf('00000000-0000-4000-8000-%012d', $k), $k, $tray, 'S1', 'otterpost', 'Otterpost', 'cable',
                $at->modify("+$k minutes"), '+447700900700', $k, $k, 0, 0, 1_000 * ($k * 37 % $count), null, 0,
                origin: Origin::Account,
            ));
        }
        $this->entities()->flush();
        foreach ([['taken', 'messages'], ['bytes', 'attachment_bytes']] as [$by, $field]) {
            foreach ([true, false] as $descending) {
                $seen = [];
                foreach ([1, 2, 3, 4] as $page) {
                    $asked = ['sorted_by' => $by, 'descending' => $descending, 'page' => $page];
                    foreach ((array) $this->found('', $asked)['backups'] as $row) {
                        self::assertIsArray($row);
                        $seen[] = (int) json_encode($this->value($row, 'of', $field));
                    }
                }
                $sorted = $seen;
                $descending ? rsort($sorted) : sort($sorted);
                self::assertSame($sorted, $seen);
                self::assertCount($count, array_unique($seen), "$by: each once.");
            }
        }
        self::assertSame($count, $this->counts('')[0]);
    }

    /**
     * @param array<string, mixed> $asked
     *
     * @return array<array-key, mixed>
     */
    private function found(string $words, array $asked = []): array
    {
        return $this->call('POST', '/api/cupboard/find', ['words' => $words] + $asked);
    }

    /** @return list<mixed> kept, due, broken, safety copies, erased */
    private function counts(string $words): array
    {
        return array_values((array) $this->found($words)['counts']);
    }

    /**
     * @param array<array-key, mixed> $whole
     *
     * @return list<array{mixed, mixed, mixed}>
     */
    private static function history(array $whole): array
    {
        return array_map(static fn (mixed $event): array => [
            ((array) $event)['what'] ?? null, ((array) $event)['tray'] ?? null, ((array) $event)['tag'] ?? null,
        ], array_values((array) $whole['history']));
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }

    private function noteOf(string $id): mixed
    {
        return $this->value($this->call('GET', "/api/cupboard/$id"), 'keeping', 'note');
    }
}
