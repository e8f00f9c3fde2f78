<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Bench\LookAtPhone;
use Geschenk\App\Bench\LookAtPhoneHandler;
use Geschenk\App\Bench\Phones as SeenPhones;
use Geschenk\App\DataFolder;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Tray\HandOver\Switched;
use Geschenk\App\Tray\Intake\Accounts;
use Geschenk\App\Tray\Standing\Calls;
use Geschenk\App\Work\Foreman;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\WorkOnRun;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\SealedBag;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Contract;
use Geschenk\Tests\Support\Phones;
use Symfony\Bundle\FrameworkBundle\KernelBrowser;
use Symfony\Bundle\FrameworkBundle\Test\WebTestCase;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\NativeClock;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;

require_once dirname(__DIR__).'/Support/moment.php';

/** A browser against the application; every answer of the API is held against docs/openapi.yaml. */
abstract class ApiTestCase extends WebTestCase
{
    protected KernelBrowser $browser;
    protected PhoneFolder $giving;
    protected PhoneFolder $receiving;
    protected string $token = '';
    /** Whether the watch goes round before each request, as it does all the time. */
    protected bool $isWatched = true;

    protected function setUp(): void
    {
        // A test before may have stopped it.
        Clock::set(new NativeClock());
        $this->browser = self::createClient();
        $this->browser->disableReboot();
        $data = self::getContainer()->get(DataFolder::class);
        foreach (['standin', 'backups', 'trays', 'pictures', 'reading'] as $folder) {
            Folder::remove($data->path.'/'.$folder);
        }
        self::getContainer()->get(DemoShop::class)->users();
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        // A test is kept until all are over: not so the application that it has used.
        unset($this->browser);
    }

    protected function signIn(string $name = 'jette', ?string $password = null): void
    {
        $this->token = $this->text($this->call('GET', '/api/session'), 'token');
        $session = $this->call(
            'POST', '/api/session', ['username' => $name, 'password' => $password ?? DemoShop::USERS[$name][2]],
        );
        $this->token = $this->text($session, 'token');
    }

    protected function layPhones(): void
    {
        $folder = self::getContainer()->get(DataFolder::class)->phones();
        $this->giving = Phones::giving($folder);
        $this->receiving = Phones::receiving($folder);
        DemoMaker::rest($this->giving->data('otterpost'));
        DemoMaker::rest($this->receiving->data('otterpost'));
    }

    /** @return int the number of a new tray with the two phones, which are laid there unless they have been */
    protected function openTray(bool $laid = false): int
    {
        if (!$laid) {
            $this->layPhones();
        }
        $tray = $this->call(
            'POST', '/api/trays',
            [
                'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'giving' => Phones::GIVING,
                'receiving' => Phones::RECEIVING,
            ],
            201,
        );
        self::assertIsInt($tray['number']);

        return $tray['number'];
    }

    /** Where the backup of a tray's first account is looked into. */
    protected function backupPath(int $number): string
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();
        $tray = $entities->getRepository(Tray::class)->findOneBy(['number' => $number]);
        self::assertNotNull($tray);

        return '/api/backups/'.($tray->moves()[0]->backup()->id ?? '00000000-0000-0000-0000-000000000000');
    }

    /**
     * @param array<string, mixed>|null $body
     *
     * @return array<array-key, mixed>
     */
    protected function call(
        string $method,
        string $path,
        ?array $body = null,
        int $status = 200,
        bool $withToken = true,
    ): array {
        if ($this->isWatched) {
            $this->watch();
        }
        $headers = [
            ...(null === $body ? [] : ['CONTENT_TYPE' => 'application/json']),
            ...($withToken ? ['HTTP_X_GESCHENK_TOKEN' => $this->token] : []),
        ];
        $this->browser->request(
            $method, $path, [], [], $headers, null === $body ? null : json_encode($body, \JSON_THROW_ON_ERROR),
        );
        $response = $this->browser->getResponse();
        $content = (string) $response->getContent();
        self::assertSame($status, $response->getStatusCode(), "$method $path: ".$content);
        Contract::assertHolds($method, $path, $status, (string) $response->headers->get('Content-Type'), $content);
        if ('GET' === $method && '/api/trays' === $path && 200 === $status) {
            $this->assertNoPictureIsAnEarlierOne($content);
        }
        $data = json_decode($content, true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($data);

        return $data;
    }

    /** What the shelf has kept is what it would make anew, whatever was done meanwhile. */
    private function assertNoPictureIsAnEarlierOne(string $shown): void
    {
        $this->browser->request('GET', '/api/trays');
        self::assertSame($shown, $this->browser->getResponse()->getContent());
        Folder::remove(self::getContainer()->get(DataFolder::class)->path.'/pictures');
        $this->browser->request('GET', '/api/trays');
        self::assertSame($shown, $this->browser->getResponse()->getContent());
    }

    /** Does what foreman and workers do: whatever the foreman hands out, again and again, as often as told. */
    protected function work(int $most = 5): void
    {
        $handler = self::getContainer()->get(RunHandler::class);
        for ($round = 0; $round < $most; ++$round) {
            foreach ($this->handedOut() as $message) {
                $handler($message);
            }
        }
        self::getContainer()->get(EntityManagerInterface::class)->clear();
    }

    /** @return list<WorkOnRun> by a foreman who has just come */
    protected function handedOut(): array
    {
        $container = self::getContainer();
        $entities = $container->get(EntityManagerInterface::class);
        $entities->clear();
        $transport = $container->get('messenger.transport.runs');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $before = count($transport->getSent());
        (new Foreman(
            $entities, $container->get(WorkLocks::class), $container->get('messenger.default_bus'),
            $container->get('clock'), $container->get(SeenPhones::class),
        ))->round();
        $messages = array_map(static fn (Envelope $sent): object => $sent->getMessage(), array_values(
            array_slice($transport->getSent(), $before),
        ));

        return array_values(array_filter($messages, static fn (object $m): bool => $m instanceof WorkOnRun));
    }

    protected function watch(): void
    {
        $watch = self::getContainer()->get(BenchWatch::class);
        self::assertInstanceOf(BenchWatch::class, $watch);
        $watch->round();
        self::getContainer()->get(Accounts::class)->takeUpWhatShows();
        self::getContainer()->get(Switched::class)->look();
        self::getContainer()->get(Calls::class)->note();
    }

    /** Has a worker look at what all phones hold. */
    protected function look(): void
    {
        $this->watch();
        $handler = self::getContainer()->get(LookAtPhoneHandler::class);
        foreach (self::getContainer()->get(
            EntityManagerInterface::class,
        )->getRepository(Holding::class)->findAll() as $h) {
            $handler(new LookAtPhone($h->serial, $h->app));
        }
    }

    /**
     * @param array<string, mixed>|null $body
     *
     * @return string the code whose words were told
     */
    protected function refusal(string $method, string $path, ?array $body, int $status = 422): string
    {
        $told = $this->text($this->call($method, $path, $body, $status), 'detail');
        $catalogue = json_decode(
            (string) file_get_contents(dirname(__DIR__, 2).'/translations/messages+intl-icu.en.json'), true,
        );
        $failures = is_array($catalogue) ? (array) $catalogue['failure'] : [];
        foreach ($failures as $code => $words) {
            $shape = '/^'.preg_replace(
                '/\\\\\{.*?\\\\\}/', '.*', preg_quote(is_string($words) ? $words : '', '/'),
            ).'$/su';
            if (1 === preg_match($shape, $told) && 'told' !== $code) {
                return (string) $code;
            }
        }
        self::fail($told);
    }

    /** @param array<string, mixed> $input */
    protected function askAndWork(int $tray, array $input, int $move = 1): void
    {
        $this->call('POST', "/api/trays/$tray/moves/$move/runs", $input, 202);
        $this->work();
    }

    /**
     * Hands over what may be handed over, having looked at what is still open.
     *
     * @param array<string, mixed> $said
     */
    protected function handOver(int $tray, array $said = []): void
    {
        $open = array_column((array) $this->value($this->call('GET', "/api/trays/$tray"), 'open'), 'id');
        $this->call('POST', "/api/trays/$tray/hand-over", ['open' => $open] + $said);
    }

    /** @param array<array-key, mixed> $from */
    protected function text(array $from, string|int ...$keys): string
    {
        $value = $this->value($from, ...$keys);
        self::assertIsString($value);

        return $value;
    }

    /** @param array<array-key, mixed> $from */
    protected function value(array $from, string|int ...$keys): mixed
    {
        $value = $from;
        foreach ($keys as $key) {
            self::assertIsArray($value);
            self::assertArrayHasKey($key, $value);
            $value = $value[$key];
        }

        return $value;
    }

    /** @return array<mixed> */
    protected function move(int $tray, int $place = 1): array
    {
        $move = $this->value($this->call('GET', "/api/trays/$tray"), 'moves', $place - 1);
        self::assertIsArray($move);

        return $move;
    }

    /** @return array<string, string> hash by path of all files in a folder */
    protected static function contents(string $folder): array
    {
        $hashes = [];
        foreach (Folder::files($folder) as $path) {
            $hashes[$path] = (string) hash_file('sha256', $folder.'/'.$path);
        }

        return $hashes;
    }

    /**
     * Where a file of a kept backup lies on the disk, sealed.
     *
     * @param string $path in its bag
     */
    protected function lies(string $id, string $path): string
    {
        $folder = self::getContainer()->get(DataFolder::class)->backups().'/'.$id.'.sealed';

        return (new SealedBag($folder, self::getContainer()->get(Keyring::class)->key($id)))->file($path)->path;
    }

    /** @return array<string, string> hashes of what was pulled for a backup that is kept, by path */
    protected function pulled(string $id): array
    {
        $raw = self::getContainer()->get(Vault::class)->open($id)->raw();
        $hashes = [];
        foreach ($raw->paths() as $path) {
            $hashes[$path] = $raw->sha256($path);
        }
        ksort($hashes);

        return $hashes;
    }
}
