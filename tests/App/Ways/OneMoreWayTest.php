<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Ways;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Run;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Ways\LentVersionWay;

/** A way in that tests/ brings along is offered, prepared, taken, interrupted and undone like those of core/. */
final class OneMoreWayTest extends ApiTestCase
{
    private const OFFER = 'lent_version/'.LentVersionWay::BOX;
    private const PASSWORD = 'spring tide ';

    public function testItIsOfferedBesideTheOthersAndTakenWithItsPasswordOnceItsStepIsDone(): void
    {
        $n = $this->opened();
        $this->look();
        $offers = $this->value($this->live($n), 'accounts', 0, 'holds', 'offers');
        self::assertIsArray($offers);
        self::assertSame(
            [['cable', 'cable', 'open'], [self::OFFER, 'lent_version', 'password']],
            array_map(
                fn (array $offer): array => [$offer['id'], $offer['way'], $offer['lock']],
                array_filter($offers, is_array(...)),
            ),
        );
        // Its step is its own affair: what every phone needs is there, and another way is open.
        self::assertSame(
            [[self::OFFER, 'lent_version', 'to_do']],
            array_map(fn (mixed $lacking): array => [
                $this->value((array) $lacking, 'offer'), $this->value((array) $lacking, 'points', 0, 'id'),
                $this->value((array) $lacking, 'points', 0, 'status'),
            ], (array) $this->move($n)['lacking_for']),
        );
        self::assertSame([['act' => 'backup', 'why' => null]], $this->backupTurns($n));
        $refused = $this->call('POST', $this->runs($n), $this->asked(self::PASSWORD), 422);
        self::assertStringContainsString('is not ready yet', $this->text($refused, 'detail'));
        $this->lend(true);
        $this->look();
        // What no phone shows is still open, and told by a person.
        self::assertSame(
            [LentVersionWay::CONFIRMED, 'to_do', true],
            array_map(fn (string $key): mixed => $this->value(
                $this->move($n), 'lacking_for', 0, 'points', 0, $key,
            ), ['id', 'status', 'told']),
        );
        $refused = $this->call('POST', $this->runs($n), $this->asked(self::PASSWORD), 422);
        self::assertStringContainsString('is not ready yet', $this->text($refused, 'detail'));
        self::assertSame('no_such_step', $this->refusal('POST', "/api/trays/$n/moves/1/told/dreamt/done", null));
        $this->tell($n, 'done');
        $this->tell($n, 'done');
        self::assertSame([], $this->move($n)['lacking_for']);
        self::assertSame('jette', $this->value($this->move($n), 'told', 0, 'by'));
        $this->tell($n, 'taken-back');
        self::assertSame([], $this->move($n)['told']);
        self::assertCount(1, (array) $this->move($n)['lacking_for']);
        $this->tell($n, 'done');
        $refused = $this->call('POST', $this->runs($n), $this->asked(null), 422);
        self::assertStringContainsString('is locked', $this->text($refused, 'detail'));
        $this->askAndWork($n, $this->asked('neap tide'));
        $run = $this->value($this->move($n), 'run');
        self::assertIsArray($run);
        self::assertSame(['failed', self::OFFER], [$run['state'], $this->value($run, 'offer', 'id')]);
        $this->call('POST', $this->runs($n).'/'.$this->text($run, 'id').'/go-on', ['key' => self::PASSWORD], 202);
        $this->work();
        $backup = $this->value($this->move($n), 'backup');
        self::assertIsArray($backup);
        self::assertSame(['lent_version', 'password'], [$backup['way_in'], $backup['locked_with']]);
        self::assertNull($this->newest()->lockedKey());
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertTrue($this->value($this->move($n), 'rehearsal', 'complete'));
        $sheet = $this->call('GET', "/api/trays/$n");
        self::assertStringContainsString('as the messenger itself had backed them up on', (string) json_encode($sheet));
    }

    public function testWhereItIsPulledOutItGoesOnAndPullsNothingTwice(): void
    {
        $n = $this->ready();
        $box = (int) filesize($this->giving->data('otterpost').'/'.LentVersionWay::BOX);
        Phones::plan($this->giving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => $box + 60_000]);
        $this->call('POST', $this->runs($n), $this->asked(self::PASSWORD), 202);
        $this->work(2);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        $raw = self::getContainer()->get(DataFolder::class)->backups().'/'.$this->newest()->id.'.part/data/raw';
        $pulled = iterator_to_array(Folder::files($raw, 'parcels'), false);
        self::assertNotSame([], $pulled);
        // As by a worker that was killed: what it held is read anew from the records.
        self::getContainer()->get(EntityManagerInterface::class)->clear();
        Phones::plug($this->giving);
        foreach ($pulled as $path) {
            // Whoever pulled it once more could not read it.
            Phones::plan($this->giving, ['on' => 'read', 'do' => 'error', 'path' => $path]);
        }
        $this->work();
        self::assertSame('lent_version', $this->value($this->move($n), 'backup', 'way_in'));
        $raw = self::getContainer()->get(Vault::class)->open($this->newest()->id)->raw();
        foreach ($pulled as $path) {
            self::assertNotNull($raw->bytes($path), $path);
        }
    }

    public function testWhatItsStepSwitchesIsAskedForBackAtTheEnd(): void
    {
        $n = $this->opened();
        $this->lend(true);
        $this->watch();
        $switched = fn (): array => array_map(
            fn (mixed $one): array => [$this->value((array) $one, 'code'), $this->value((array) $one, 'back')],
            (array) $this->call('GET', "/api/trays/$n")['switched'],
        );
        self::assertSame([['lent_version', false]], $switched());
        $this->lend(false);
        self::assertSame([['lent_version', true]], $switched());
    }

    public function testTwoAccountsArentNeededForTwoWaysAtOnceOneRequestNamesItsOffer(): void
    {
        $n = $this->ready();
        $this->call('POST', "/api/trays/$n/backups", [
            'accounts' => [['place' => 1, 'offer' => self::OFFER, 'key' => self::PASSWORD]],
        ], 202);
        $this->work();
        self::assertSame('lent_version', $this->value($this->move($n), 'backup', 'way_in'));
    }

    public function testWhatAToldStepLeavesIsNamedBeforeTheHandOverUntilSomebodySaysThatItIsUndone(): void
    {
        $n = $this->ready();
        $this->askAndWork($n, $this->asked(self::PASSWORD));
        self::assertSame(['told '.LentVersionWay::CONFIRMED.' otterpost'], $this->toldOpen($n));
        self::assertNotNull($this->value($this->move($n), 'told', 0, 'undo'));
        $back = "/api/trays/$n/moves/1/told/".LentVersionWay::CONFIRMED.'/taken-back';
        self::assertSame('step_was_used', $this->refusal('POST', $back, null));
        self::assertCount(1, $this->toldOpen($n), 'It is named still.');
        $this->tell($n, 'undone');
        self::assertSame([], $this->toldOpen($n));
        self::assertNull($this->value($this->move($n), 'told', 0, 'undo'));
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'));
        foreach (['Said of Otterpost', 'Undone again for Otterpost'] as $words) {
            self::assertStringContainsString($words, $log);
        }
    }

    /** @return list<mixed> what is still open of what was told, by its id */
    private function toldOpen(int $n): array
    {
        return array_values(array_filter(
            array_column((array) $this->call('GET', "/api/trays/$n")['open'], 'id'),
            static fn (mixed $id): bool => is_string($id) && str_starts_with($id, 'told '),
        ));
    }

    /** Both steps of it are done, the one as it is seen and the other as it was told. */
    private function ready(): int
    {
        $n = $this->opened();
        $this->lend(true);
        $this->look();
        $this->tell($n, 'done');

        return $n;
    }

    private function tell(int $n, string $act): void
    {
        $this->call('POST', "/api/trays/$n/moves/1/told/".LentVersionWay::CONFIRMED."/$act", null);
    }

    private function opened(): int
    {
        $this->signIn();
        $this->layPhones();
        LentVersionWay::pack($this->giving->data('otterpost'), self::PASSWORD, time() - 3_600);

        return $this->openTray(laid: true);
    }

    private function lend(bool $isLent): void
    {
        $this->giving->change(static function (array $state) use ($isLent): array {
            $state['apps'] = array_map(static fn (array $app): array => [
                ...$app, 'version' => str_replace('-lent', '', $app['version']).($isLent ? '-lent' : ''),
            ], $state['apps'] ?? []);

            return $state;
        });
    }

    private function runs(int $n): string
    {
        return "/api/trays/$n/moves/1/runs";
    }

    /** @return array<string, mixed> */
    private function asked(?string $key): array
    {
        return ['kind' => 'backup', 'offer' => self::OFFER, 'key' => $key];
    }

    /** @return array<array-key, mixed> */
    private function live(int $n): array
    {
        return (array) $this->value($this->call('GET', "/api/trays/$n"), 'phones', 0, 'live');
    }

    /** @return list<mixed> */
    private function backupTurns(int $n): array
    {
        return array_values(array_filter(
            (array) $this->move($n)['may'], fn (mixed $may): bool => 'backup' === $this->value((array) $may, 'act'),
        ));
    }

    private function newest(): Run
    {
        return self::getContainer()->get(EntityManagerInterface::class)->getRepository(Run::class)
            ->findOneBy([], ['counter' => 'DESC']) ?? self::fail();
    }
}
