<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Errand;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Records;
use Geschenk\App\Work\Erasing;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** A backup that is kept behind a hand-over is brought onto a phone, as if it had just been made. */
final class BringKeptTest extends ApiTestCase
{
    private const ORDER = ['customer' => 'Ärmel Test', 'contact' => 'the café', 'consent' => true, 'language' => 'en'];

    /** @return iterable<string, array{string}> */
    public static function platforms(): iterable
    {
        yield 'to the other platform' => ['ios'];
        yield 'to the same platform' => ['android'];
    }

    #[DataProvider('platforms')]
    public function testWhatWasOnlyBackedUpComesOntoAPhone(string $platform): void
    {
        [$kept, $id] = $this->kept();
        $phone = $this->receiving($platform);
        $empty = self::contents($phone->data('otterpost'));
        $tray = $this->open([$id]);
        $n = $tray['number'];
        self::assertIsInt($n);
        self::assertSame('choose', $tray['stage'], 'There is nothing to wait for: it is backed up.');
        self::assertSame([["$n-A", 'receives']], array_map(
            static fn (mixed $one): array => is_array($one) ? [$one['tag'], $one['role']] : [],
            (array) $tray['phones'],
        ));
        self::assertSame([null, null], [$tray['direction'], $tray['proposal']]);
        self::assertSame([$kept, true], [
            $this->value($tray, 'moves', 0, 'backup', 'tray'), $this->value($tray, 'moves', 0, 'backup', 'kept'),
        ]);
        self::assertSame('+447700900700', $this->value($tray, 'moves', 0, 'number'));
        self::assertCount(1, (array) $this->call('GET', "/api/trays/$n/readiness")['phones']);
        self::assertSame('nothing_gives', $this->refusal('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup']));
        self::assertSame('one_phone_alone', $this->refusal('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-A"]));
        self::assertNotEmpty($this->call('GET', "{$this->backupPath($n)}/conversations")['conversations']);
        $this->look();
        self::assertIsInt($this->call('GET', "/api/trays/$n/moves/1/scope")['named']);

        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-A"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'), (string) json_encode($this->move($n)));
        self::assertSame(
            $this->value($tray, 'moves', 0, 'backup', 'messages'), $this->value($this->move($n), 'arrival', 'messages'),
        );
        $this->call('GET', "/api/trays/$n/moves/1/eyes");
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-A"]);
        self::assertSame($empty, self::contents($phone->data('otterpost')));
        $this->look();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-A"]);
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        foreach (['Everything that was meant to arrive', "taken in tray $kept"] as $words) {
            self::assertStringContainsString($words, $sheet);
        }
        self::assertStringNotContainsString('giving phone was only read', $sheet, 'There was none.');
        $this->handOver($n);
        self::assertSame(['opened_to_bring_kept', 'takes_kept'], array_slice(
            array_column((array) $this->call('GET', "/api/trays/$n")['steps'], 'code'), 0, 2,
        ));
    }

    public function testItIsMergedWithWhatThePhoneHoldsAndOnceMoreOntoAnother(): void
    {
        [, $id] = $this->kept();
        $phone = Phones::giving(
            self::getContainer()->get(DataFolder::class)->phones(),
            ['serial' => 'HOLDS0001', 'model' => 'New'], false, 30,
        );
        DemoMaker::rest($phone->data('otterpost'));
        $n = $this->open([$id], 'HOLDS0001')['number'];
        self::assertIsInt($n);
        $this->look();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true, 'convert' => true]);
        $this->work();
        self::assertSame('restore', $this->move($n)['stage'], (string) json_encode($this->move($n)));
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-A"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        $this->handOver($n);

        $other = $this->receiving('ios');
        $this->look();
        $tray = $this->call('POST', "/api/trays/$n/reopen", ['receiving' => Phones::RECEIVING]);
        self::assertSame('once_more', $this->value($tray, 'moves', 0, 'bringings', 1, 'aim'));
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => false, 'convert' => true]);
        $this->work();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        self::assertNotSame([], self::contents($other->data('otterpost')));
        $this->handOver($n);
    }

    public function testNothingIsErasedUnderWhoeverBringsItAndWhatIsErasedIsBroughtByNobody(): void
    {
        [$kept, $id] = $this->kept();
        $phone = $this->receiving('ios');
        $empty = self::contents($phone->data('otterpost'));
        $n = $this->open([$id])['number'];
        self::assertIsInt($n);
        self::assertSame('backup_being_brought', $this->refusal(
            'POST', "/api/trays/$kept/erase", ['number' => "$kept"],
        ));
        // Nor by the way out of a tray that was opened anew.
        $this->call('POST', "/api/trays/$kept/reopen", []);
        self::assertSame('backup_being_brought', $this->refusal(
            'POST', "/api/trays/$kept/withdraw", ['number' => "$kept", 'keep' => false],
        ));
        $this->call('POST', "/api/trays/$kept/withdraw", ['number' => "$kept", 'keep' => true]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-A"]);
        $this->handOver($n);
        $this->call('POST', "/api/trays/$kept/erase", ['number' => "$kept"], 202);
        self::getContainer()->get(Erasing::class)->do($kept);
        self::assertSame([], glob(self::getContainer()->get(DataFolder::class)->backups().'/'.$id.'*'));

        self::assertFalse($this->value($this->move($n), 'backup', 'kept'));
        $gone = $this->call('GET', "{$this->backupPath($n)}/conversations", null, 404);
        self::assertStringContainsString('erased', $this->text($gone, 'detail'));
        self::assertSame('erased_already', $this->refusal('POST', "/api/trays/$n/reopen", []));
        self::assertSame([], $this->found('Ärmel'));
        self::assertSame('no_such_backup', $this->refusal('POST', '/api/trays', $this->order([$id])));
        // What the phone held before is this tray's own: the way back is open still.
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-A"]);
        self::assertSame($empty, self::contents($phone->data('otterpost')));
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertResponseIsSuccessful();
        $sheet = (string) $this->browser->getResponse()->getContent();
        // What is kept beside nothing is not kept "too".
        self::assertStringContainsString('The shop keeps what the receiving phone held before', $sheet);
    }

    public function testOnlyWhatIsKeptIsFoundAndByWhatIsKnownOfIt(): void
    {
        [$kept, $id] = $this->kept();
        foreach (['Ärmel', 'ärmel', 'TEST', '', "$kept", '7700900700', 'otter café', '  '] as $words) {
            self::assertSame([$id], array_column($this->found($words), 'id'), $words);
        }
        foreach (['%', '_', '!', 'nobody', "' OR 1 = 1", 'Ärmel nobody', "x\u{0}y", '99999999999999'] as $words) {
            self::assertSame([], $this->found($words), $words);
        }
        $this->call('POST', '/api/backups/find', ['words' => str_repeat('x', 121)], 422);
        self::assertSame([], $this->found('', 1), 'Behind the last there is none.');
        // A tray that is open has its own; what it made is not to be found yet.
        $this->call('POST', "/api/trays/$kept/reopen", []);
        self::assertSame([], $this->found(''));
        $this->receiving('ios');
        self::assertSame('no_such_backup', $this->refusal('POST', '/api/trays', $this->order([$id])));
        $this->handOver($kept);
        foreach ([
            [[], 'needs_a_backup'], [['none'], 'no_such_backup'], [[$id, 'none'], 'no_such_backup'],
        ] as [$ids, $code]) {
            self::assertSame($code, $this->refusal('POST', '/api/trays', $this->order($ids)));
        }
        $nowhere = ['receiving' => ''] + $this->order([$id]);
        self::assertSame('needs_a_phone', $this->refusal('POST', '/api/trays', $nowhere));
        $this->call('POST', '/api/trays', ['backups' => [['id' => $id]]] + $this->order([]), 422);
        self::assertCount(1, (array) $this->call('GET', '/api/trays')['trays'], 'What is refused opens nothing.');
        // Twice the same is one.
        self::assertCount(1, (array) $this->open([$id, $id])['moves']);
    }

    public function testTwoBackupsOfOneAppAreOneTooMany(): void
    {
        [$kept, $first] = $this->kept();
        $this->call('POST', "/api/trays/$kept/reopen", []);
        $this->askAndWork($kept, ['kind' => 'backup']);
        $second = $this->text($this->move($kept), 'backup', 'id');
        $this->handOver($kept);
        self::assertNotSame($first, $second);
        self::assertSame([$second, $first], array_column($this->found(''), 'id'), 'The newest first.');
        $this->receiving('ios');
        self::assertSame('one_app_twice', $this->refusal('POST', '/api/trays', $this->order([$first, $second])));
        // The earlier one can be brought too.
        $n = $this->open([$first])['number'];
        self::assertIsInt($n);
        self::assertSame($first, $this->value($this->move($n), 'backup', 'id'));
    }

    public function testATrayIsOneCustomersWhateverTheyAreCalled(): void
    {
        [, $id] = $this->kept();
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $records = self::getContainer()->get(Records::class);
        $other = $records->change(static function () use ($entities, $records): string {
            $namesake = new Customer('Ärmel Test', 'the café', 'en');
            $tray = new Tray(99, $namesake, new \DateTimeImmutable(), 'jette', Errand::OnlyBackUp);
            $tray->close(new \DateTimeImmutable());
            $backup = new Backup(
                '00000000-0000-0000-0000-000000000099', $records->next(Backup::class), $tray, 'S', 'otterpost-counter',
                'Otterpost Counter', 'cable', new \DateTimeImmutable(), '+447700900701', 1, 1, 0, 0, 0, null,
            );
            array_map($entities->persist(...), [$namesake, $tray, $backup]);

            return $backup->id;
        });
        self::assertEqualsCanonicalizing([$id, $other], array_column($this->found('Ärmel'), 'id'));
        $this->receiving('ios');
        self::assertSame('two_customers', $this->refusal('POST', '/api/trays', $this->order([$id, $other])));
        // Whose backup it is stays who they were, and what is told of them is corrected.
        $tray = $this->call('POST', '/api/trays', ['customer' => 'Ärmel Neu'] + $this->order([$id]), 201);
        self::assertSame('Ärmel Neu', $tray['customer']);
        self::assertSame([$id], array_column($this->found('Neu'), 'id'));
        self::assertSame([$other], array_column($this->found('Test'), 'id'));
    }

    /** @return array{int, string} a tray that was handed over, and its backup's id */
    private function kept(): array
    {
        $this->signIn();
        $folder = self::getContainer()->get(DataFolder::class)->phones();
        $this->giving = Phones::giving($folder);
        DemoMaker::rest($this->giving->data('otterpost'));
        $n = $this->call(
            'POST', '/api/trays', ['errand' => 'only_back_up', 'giving' => Phones::GIVING] + self::ORDER, 201,
        )['number'];
        self::assertIsInt($n);
        $this->look();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        $this->handOver($n);

        return [$n, $id];
    }

    private function receiving(string $platform): PhoneFolder
    {
        $this->receiving = Phones::receiving(self::getContainer()->get(DataFolder::class)->phones(), [
            'platform' => $platform, 'developer_options' => 'android' === $platform,
            'debugging' => 'android' === $platform,
        ]);
        DemoMaker::rest($this->receiving->data('otterpost'));

        return $this->receiving;
    }

    /**
     * @param list<string> $ids
     *
     * @return array<string, mixed>
     */
    private function order(array $ids, string $receiving = Phones::RECEIVING): array
    {
        return ['errand' => 'bring_kept', 'receiving' => $receiving, 'backups' => $ids] + self::ORDER;
    }

    /**
     * @param list<string> $ids
     *
     * @return array<array-key, mixed>
     */
    private function open(array $ids, string $receiving = Phones::RECEIVING): array
    {
        $tray = $this->call('POST', '/api/trays', $this->order($ids, $receiving), 201);
        self::getContainer()->get(EntityManagerInterface::class)->clear();

        return $tray;
    }

    /** @return list<mixed> */
    private function found(string $words, ?int $behind = null): array
    {
        return array_values((array) $this->call('POST', '/api/backups/find', [
            'words' => $words, 'behind' => $behind,
        ])['backups']);
    }
}
