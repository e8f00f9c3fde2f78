<?php

declare(strict_types=1);

namespace Geschenk\Tests\Migration;

use DAMA\DoctrineTestBundle\Doctrine\DBAL\StaticDriver;
use Geschenk\App\DataFolder;
use Geschenk\App\Log\LogChain;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Scratch;

/**
 * A data folder that the version before bringings has made is taken over: ten trays, open ones at every stage, with
 * runs that wait, safety copies and phones, and one that was put back behind its hand-over. Each goes on to its end by
 * the same clicks.
 */
final class TakenOverTest extends ApiTestCase
{
    use Scratch;

    private const READY = 41;
    private const TRIAL_CHOSEN = 42;
    private const TRIAL_THERE = 43;
    private const MERGE_CONVERTED = 44;
    private const MERGED_THEN_MISSING = 45;
    private const CHECKED = 46;
    private const PUT_BACK_BEHIND = 47;
    private const PUT_BACK = 48;
    private const RESTORE_WAITS = 49;
    private const BACKUP_WAITS = 50;

    /** @var array<string, mixed> */
    private array $before;

    protected function setUp(): void
    {
        parent::setUp();
        self::ensureKernelShutdown();
        $data = $this->path();
        exec(sprintf(
            'tar xzf %s -C %s', escapeshellarg(__DIR__.'/before-bringings.tar.gz'), escapeshellarg($data),
        ), $lines, $status);
        self::assertSame(0, $status);
        exec(sprintf(
            'GESCHENK_DATA=%s APP_ENV=test %s %s doctrine:migrations:migrate --no-interaction 2>&1',
            escapeshellarg($data), escapeshellarg(\PHP_BINARY),
            escapeshellarg(dirname(__DIR__, 2).'/bin/console'),
        ), $said, $status);
        self::assertSame(0, $status, implode("\n", $said));
        $this->before = ['GESCHENK_DATA' => $_ENV['GESCHENK_DATA'] ?? ''];
        $this->useData($data);
        StaticDriver::setKeepStaticConnections(false);
        $this->browser = self::createClient();
        $this->browser->disableReboot();
        $this->signIn();
        $this->work();
        $this->look();
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        self::ensureKernelShutdown();
        StaticDriver::setKeepStaticConnections(true);
        $before = $this->before['GESCHENK_DATA'];
        $this->useData(is_string($before) ? $before : '');
    }

    public function testEachStandsWhereItStoodAndWhatWaitedHasGoneOn(): void
    {
        $stands = [];
        foreach (range(self::READY, self::BACKUP_WAITS) as $n) {
            $move = $this->move($n);
            $stands[$n] = [$move['stage'], $move['completes'], count((array) $move['checks'])];
        }
        self::assertSame([
            self::READY => ['back_up', false, 0], self::TRIAL_CHOSEN => ['choose', false, 0],
            // Copied phones are others than those that were merged with: what would be written is made anew first.
            self::TRIAL_THERE => ['check', false, 1], self::MERGE_CONVERTED => ['convert', false, 0],
            self::MERGED_THEN_MISSING => ['convert', true, 2], self::CHECKED => ['hand_over', false, 1],
            self::PUT_BACK_BEHIND => ['hand_over', false, 1], self::PUT_BACK => ['restore', false, 1],
            // The runs that waited were done by the version that came after.
            self::RESTORE_WAITS => ['hand_over', false, 1], self::BACKUP_WAITS => ['choose', false, 0],
        ], $stands);
        self::assertNull(self::getContainer()->get(LogChain::class)->firstFault());
        self::assertIsString($this->move(self::PUT_BACK_BEHIND)['put_back_at']);
        foreach ([self::CHECKED, self::PUT_BACK_BEHIND] as $n) {
            $this->browser->request('GET', "/trays/$n/sheet");
            $sheet = (string) $this->browser->getResponse()->getContent();
            self::assertStringContainsString('Everything that was meant to arrive', $sheet);
        }
    }

    public function testEachIsBroughtToItsEnd(): void
    {
        $this->askAndWork(self::READY, ['kind' => 'backup']);
        foreach ([
            self::READY, self::TRIAL_CHOSEN, self::BACKUP_WAITS, self::MERGE_CONVERTED, self::MERGED_THEN_MISSING,
        ] as $n) {
            $this->askAndWork($n, ['kind' => 'conversion']);
        }
        foreach ([
            self::READY, self::TRIAL_CHOSEN, self::BACKUP_WAITS, self::PUT_BACK, self::MERGE_CONVERTED,
            self::MERGED_THEN_MISSING,
        ] as $n) {
            $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
            self::assertTrue($this->value($this->move($n), 'arrival', 'complete'), "$n");
        }
        foreach ([self::TRIAL_CHOSEN, self::TRIAL_THERE] as $n) {
            $this->call('POST', "/api/trays/$n/moves/1/rest", null, 202);
            $this->work();
            $this->look();
            $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
            self::assertTrue($this->value($this->move($n), 'arrival', 'complete'), "$n");
        }
        $this->call('POST', '/api/trays/'.self::PUT_BACK_BEHIND.'/reopen', ['receiving' => null]);
        $this->askAndWork(self::PUT_BACK_BEHIND, ['kind' => 'conversion']);
        $this->askAndWork(self::PUT_BACK_BEHIND, [
            'kind' => 'restore', 'confirmed_tag' => self::PUT_BACK_BEHIND.'-B',
        ]);
        foreach (range(self::READY, self::BACKUP_WAITS) as $n) {
            $this->handOver($n);
        }
        // What the version before had backed up can be brought once more, in a tray of its own.
        $backup = $this->text($this->move(self::CHECKED), 'backup', 'id');
        $n = $this->call('POST', '/api/trays', [
            'customer' => 'Checked', 'contact' => 'the quay', 'consent' => true, 'errand' => 'bring_kept',
            'receiving' => 'RECEIVES6', 'backups' => [$backup],
        ], 201)['number'];
        self::assertIsInt($n);
        $this->look();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true, 'convert' => true]);
        $this->work();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-A"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
    }

    public function testThePhoneThatWasMergedAndLostSomethingIsPutBackToBeforeTheMerge(): void
    {
        $n = self::MERGED_THEN_MISSING;
        $phone = new PhoneFolder(self::getContainer()->get(DataFolder::class)->phones().'/RECEIVES5');
        $was = self::contents($this->path('backups/'.$this->firstCopy()).'/'.Workplace::RAW);
        self::assertNotSame($was, self::contents($phone->data('otterpost')));
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $kept = $this->value($this->move($n), 'arrival', 'kept');
        self::assertGreaterThan(0, $kept, 'What the phone held before the merge is expected still.');
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($was, self::contents($phone->data('otterpost')));
    }

    /** Of the tray that was merged, as the records told it before. */
    private function firstCopy(): string
    {
        $shop = new \SQLite3($this->path('shop.sqlite'));
        $id = $shop->querySingle(
            'SELECT b.safety_copy_id FROM bringing b JOIN move m ON m.id = b.move_id JOIN tray t ON t.id = m.tray_id '
                .'WHERE b.number = 1 AND t.number = '.self::MERGED_THEN_MISSING,
        );
        self::assertIsString($id);

        return $id;
    }

    private function useData(string $data): void
    {
        putenv('GESCHENK_DATA='.$data);
        $_SERVER['GESCHENK_DATA'] = $_ENV['GESCHENK_DATA'] = $data;
    }
}
